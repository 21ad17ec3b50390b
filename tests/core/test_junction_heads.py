"""The equations of the heads against the whole matrix, solved by NumPy."""

import numpy as np
import pytest
import scipy
from pytest import approx

from euhydra.core import junction_heads
from euhydra.core.junction_heads import HeadEquations
from networks import comb


def whole(equations, conductance, leaving, to_ground):
    """Heads by the whole matrix of all nodes, sources with their own head."""
    network = equations.network
    count = len(network.nodes.ids)
    matrix, known = np.diag(to_ground), -leaving
    for start, end, c in zip(network.start, network.end, conductance, strict=True):
        matrix[[start, end], [start, end]] += c
        matrix[[start, end], [end, start]] -= c
    fixed = np.flatnonzero(equations.is_fixed)
    matrix[fixed] = np.eye(count)[fixed]
    known[fixed] = network.nodes.fixed_head[fixed]
    return np.linalg.solve(matrix, known)


def posed(rows, seed):
    chance = np.random.default_rng(seed)
    equations = HeadEquations.of(comb(rows, 5, 12.0))
    nodes, links = len(equations.network.nodes.ids), len(equations.network.start)
    conductance = 10 ** chance.uniform(-5, -1, links)
    return equations, conductance, chance.uniform(0, 1e-5, nodes), chance.uniform(0, 1e-4, nodes)


@pytest.mark.parametrize("rows", [1, 7, 20])
@pytest.mark.parametrize("widest", [0, 100])
def test_heads_are_those_of_the_whole_matrix_as_a_band_and_without(monkeypatch, rows, widest):
    monkeypatch.setattr(junction_heads, "WIDEST_BAND", widest)
    equations, conductance, leaving, to_ground = posed(rows, seed=rows)
    still = np.zeros_like(conductance)
    found = equations.heads(conductance, still, leaving, to_ground)
    assert found == approx(whole(equations, conductance, leaving, to_ground), rel=1e-8, abs=1e-9)


def test_what_is_not_positive_in_numbers_is_solved_all_the_same(monkeypatch):
    asked = []
    band = scipy.linalg.lapack.dpbsv

    def refusing(*args, **options):
        asked.append(band(*args, **options))
        return *asked[-1][:2], 1  # as where rounding leaves nothing on the diagonal

    equations, conductance, leaving, to_ground = posed(7, 3)
    monkeypatch.setattr(scipy.linalg.lapack, "dpbsv", refusing)
    found = equations.heads(conductance, np.zeros_like(conductance), leaving, to_ground)
    assert len(asked) == 1
    assert found == approx(whole(equations, conductance, leaving, to_ground), rel=1e-8, abs=1e-9)
