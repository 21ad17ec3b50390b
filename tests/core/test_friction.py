import numpy as np
from pytest import approx, mark

from euhydra.core import friction
from euhydra.core.constants import GRAVITY

SMOOTH, VISCOSITY = np.array([1.5e-6]), 1.004e-6
BORE = np.array([0.0136])


def loss(flow: float, minor: float = 0.0) -> tuple[float, float]:
    pipes = friction.DarcyWeisbach(np.array([10.0]), BORE, SMOOTH, np.array([minor]), VISCOSITY)
    found = pipes.loss(np.array([flow]))
    return float(found.head_loss[0]), float(found.slope[0])


def flow_at(reynolds: float) -> float:
    return float(reynolds * np.pi / 4 * BORE[0] * VISCOSITY)


def test_laminar_tube_is_hagen_poiseuille():
    # Closed form: h = 128 ν L Q / (π g D⁴). Any fluid-mechanics handbook.
    flow = flow_at(800)
    expected = 128 * VISCOSITY * 10 * flow / (np.pi * GRAVITY * BORE[0] ** 4)
    assert loss(flow)[0] == approx(expected, rel=1e-12)


@mark.parametrize("reynolds", [1e4, 1e5, 1e6])
@mark.parametrize("relative_roughness", [0.0, 1e-4, 1e-2])
def test_rough_and_smooth_factor_solves_colebrook(reynolds, relative_roughness):
    # Swamee and Jain (1976) state agreement with Colebrook–White within 1% for relative roughness
    # 1e-6 to 1e-2 and Re from 5e3 to 1e8; the smooth wall lies just outside and stays within 3%.
    f, _ = friction.friction_factor(np.array([reynolds]), np.array([relative_roughness]))
    colebrook = f[0]
    for _ in range(50):
        inside = relative_roughness / 3.7 + 2.51 / (reynolds * np.sqrt(colebrook))
        colebrook = (-2 * np.log10(inside)) ** -2
    assert f[0] == approx(colebrook, rel=0.03)


@mark.parametrize("edge", [2000.0, 4000.0])
def test_no_step_at_the_edges_of_the_transition(edge):
    below, above = (
        friction.friction_factor(np.array([edge + d]), np.array([1e-4])) for d in (-1e-6, 1e-6)
    )
    assert below[0][0] == approx(above[0][0], rel=2e-4)
    assert below[1][0] == approx(above[1][0], rel=0.05)


@mark.parametrize("reynolds", [50, 1500, 2500, 3500, 6000, 80000])
@mark.parametrize("minor", [0.0, 4.0])
def test_slope_is_the_derivative_of_the_loss(reynolds, minor):
    flow, step = flow_at(reynolds), flow_at(reynolds) * 1e-6
    rise = (loss(flow + step, minor)[0] - loss(flow - step, minor)[0]) / (2 * step)
    assert loss(flow, minor)[1] == approx(rise, rel=1e-4)


def test_loss_turns_with_the_flow():
    assert loss(-flow_at(5000), 2.0)[0] == -loss(flow_at(5000), 2.0)[0]


def test_hazen_williams_constant_in_metres():
    # Handbooks give 10.67 for metres and m³/s (from memory).
    assert approx(10.67, abs=0.005) == friction.HAZEN_WILLIAMS_FACTOR
