"""Whatever garden the document allows, the chain answers or says plainly why not."""

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from euhydra.garden import catalogue, demo, document, normals, plumbing
from euhydra.garden.document import GardenError
from euhydra.planner.answers import Gap
from euhydra.planner.chain import run_chain
from euhydra.planner.judgement.answer import judge
from gardens import one_barrel
from told import faults_in

RECORD = normals.make_days(demo.normals(), 2)


@st.composite
def gardens(draw):
    found = one_barrel().model_dump(mode="json")
    found["place"]["latitude_deg"] = draw(st.floats(-90, 90))
    found["roofs"][0] |= {
        "length_m": draw(st.floats(0.1, 100)),
        "width_m": draw(st.floats(0.1, 100)),
    }
    found["downspouts"][0] |= {
        "first_flush_m": draw(st.floats(0, 0.01)),
        "share": draw(st.floats(0.01, 1)),
    }
    height = draw(st.floats(0.1, 5))
    found["stores"][0] |= {
        "volume_m3": draw(st.floats(0.005, 100)),
        "height_m": height,
        "ground_m": draw(st.floats(-50, 50)),
        "stand_m": draw(st.floats(0, 3)),
        "dregs_m": 0.0,
        "outlet_height_m": draw(st.floats(0, height)),
        "rule": draw(st.sampled_from(["yas", "ybs", "same-day"])),
    }
    hose = {
        "length_m": draw(st.floats(0.1, 500)),
        "bore_m": draw(st.floats(0.002, 0.1)),
        "fittings_loss": draw(st.floats(0, 200)),
    }
    found["beds"][0] |= {
        "length_m": draw(st.floats(0.2, 100)),
        "width_m": draw(st.floats(0.1, 50)),
        "ground_m": draw(st.floats(-50, 50)),
        "raised_m": draw(st.floats(0, 2)),
        "soil": draw(st.sampled_from(list(catalogue.soils()))),
        "crop": draw(st.sampled_from(list(catalogue.crops()))),
        "planting": {"month": draw(st.integers(1, 12)), "day": draw(st.integers(1, 28))},
    }
    lines = [k.id for k in plumbing.pipe_kinds().values() if k.has_outlets]
    line = {"kind": draw(st.sampled_from(lines)), "spacing_m": draw(st.floats(0.2, 2))}
    for pipe in found["pipes"]:
        pipe |= hose if pipe["id"] == "shed-hose" else line if pipe["spacing_m"] else {}
    found["timers"][0] |= {
        "kind": draw(st.sampled_from(list(catalogue.timers()))),
        "window_s": draw(st.floats(60, 86400)),
    }
    return found


@settings(max_examples=25, suppress_health_check=list(HealthCheck))
@given(gardens())
def test_the_chain_answers_any_garden(found):
    try:
        garden = document.from_document(found)
    except GardenError:
        return  # outlets that do not fit, a tap at the very top: refused with a message
    chain = run_chain(garden, RECORD)
    bed = chain.planted[0]
    for answer in (chain.catch, bed.push, bed.time):
        assert isinstance(answer, Gap) or str(answer.verdict.summary)
    assert faults_in(chain) == []
    judged = judge(chain)
    assert all(str(station.summary) for station in judged.stations.values())
    assert faults_in([finding.cause for finding in judged.findings]) == []
    if not isinstance(chain.store, Gap):
        group = chain.store.groups[0]
        assert str(group.verdict.summary)
        caught = float(group.run.inflow.sum())
        assert abs(chain.store.season.run.residual(0)) < 1e-6 * max(1.0, caught)
