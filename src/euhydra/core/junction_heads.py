"""The linear equations of the junction heads: a symmetric band, with other numbers at every step."""

from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Any

import numpy as np
import scipy
from numpy.typing import NDArray

from euhydra.core.islands import islands_of
from euhydra.core.network import Network, NetworkError

Floats = NDArray[np.float64]
Integers = NDArray[np.intp]

PATTERNS_KEPT = 128
"""Ways of joining nodes that are kept: a zone is solved at many levels, and tried with other pipes."""

WIDEST_BAND = 64
"""Widest band that is solved as one: up to there that is several times as quick. Measured."""


@dataclass(frozen=True)
class _Pattern:
    """Where the numbers of the matrix stand: the same for all networks joined alike.

    Junctions are renumbered once so that neighbours lie close together: a single line's matrix is
    two numbers wide, a comb's as wide as it has lines.

    node_of : Node of each row.
    inner : Links with a junction at both ends.
    upper, lower : Row of their ends, the smaller and the larger.
    width : Of the diagonal and what stands beside it on one side.
    """

    node_of: Integers
    inner: Integers
    upper: Integers
    lower: Integers
    width: int

    @cached_property
    def place(self) -> Integers:
        """Where the diagonal and each inner link land in the band, stored row after row."""
        rows = np.arange(len(self.node_of))
        return np.concatenate(
            [rows * self.width, self.upper * self.width + self.lower - self.upper]
        )


def _as_key(array: NDArray[Any]) -> bytes:
    return array.tobytes()


def _flags_of(key: bytes) -> NDArray[np.bool_]:
    return np.frombuffer(key, dtype=np.bool_)


def _integers_of(key: bytes) -> Integers:
    return np.frombuffer(key, dtype=np.intp)


@lru_cache(maxsize=PATTERNS_KEPT)
def _pattern_of(fixed: bytes, start: bytes, end: bytes) -> _Pattern:
    is_fixed, starts, ends = _flags_of(fixed), _integers_of(start), _integers_of(end)
    junctions = np.flatnonzero(~is_fixed)
    count = len(junctions)
    first_row = np.full(len(is_fixed), -1, dtype=np.intp)
    first_row[junctions] = np.arange(count)
    inner = np.flatnonzero(~is_fixed[starts] & ~is_fixed[ends])
    a, b = first_row[starts[inner]], first_row[ends[inner]]
    graph = scipy.sparse.csr_matrix(
        (np.ones(2 * len(a)), (np.r_[a, b], np.r_[b, a])), (count, count)
    )
    order = (
        scipy.sparse.csgraph.reverse_cuthill_mckee(graph, symmetric_mode=True)
        if count
        else slice(0)
    )
    node_of = junctions[order]

    row_of = np.full(len(is_fixed), -1, dtype=np.intp)
    row_of[node_of] = np.arange(count)
    a, b = row_of[starts[inner]], row_of[ends[inner]]
    upper, lower = np.minimum(a, b), np.maximum(a, b)
    return _Pattern(node_of, inner, upper, lower, 1 + int((lower - upper).max(initial=0)))


@dataclass(frozen=True)
class HeadEquations:
    """The equations of one network."""

    network: Network
    is_fixed: NDArray[np.bool_]
    pattern: _Pattern

    @classmethod
    def of(cls, network: Network) -> "HeadEquations":
        """The equations of a network without their numbers.

        Raises
        ------
        NetworkError : if there is no source, or some nodes cannot be reached from any.
        """
        is_fixed = ~np.isnan(network.nodes.fixed_head)
        _refuse_islands(network, is_fixed)
        key = _as_key(is_fixed), _as_key(network.start), _as_key(network.end)
        return cls(network, is_fixed, _pattern_of(*key))

    def heads(
        self, conductance: Floats, intercept: Floats, leaving: Floats, to_ground: Floats
    ) -> Floats:
        """Heads that balance every junction under the straightened laws. [m]

        Parameters
        ----------
        conductance, intercept : Of each link, its flow over the head across it, and without any.
            [m² s⁻¹], [m³ s⁻¹]
        leaving, to_ground : At each node, what leaves without any head, and more for each metre.
            [m³ s⁻¹], [m² s⁻¹]
        """
        nodes, start, end = self.network.nodes, self.network.start, self.network.end
        pattern, everywhere = self.pattern, len(nodes.ids)
        head = np.where(self.is_fixed, nodes.fixed_head, 0.0)
        if len(pattern.node_of) == 0:
            return head

        diagonal = to_ground + np.bincount(start, conductance, everywhere)
        diagonal += np.bincount(end, conductance, everywhere)
        # Sources stand on the right-hand side, with the heads they hold.
        known = intercept + conductance * (head[start] - head[end])
        balance = np.bincount(end, known, everywhere)
        balance -= np.bincount(start, known, everywhere)
        head[pattern.node_of] = _solved(
            pattern,
            diagonal[pattern.node_of],
            -conductance[pattern.inner],
            (balance - leaving)[pattern.node_of],
        )
        return head


def _solved(pattern: _Pattern, diagonal: Floats, across: Floats, known: Floats) -> Floats:
    """The equations solved: as a band, or without pivoting where that is wide or cannot be done.

    Cholesky's way asks for a matrix that is positive in numbers too: behind a shut valve it may not be.
    """
    count = len(known)
    if pattern.width <= WIDEST_BAND:
        numbers = np.concatenate([diagonal, across])
        band = np.bincount(pattern.place, numbers, count * pattern.width)
        _, found, fault = scipy.linalg.lapack.dpbsv(
            band.reshape(count, -1).T, known, lower=1, overwrite_ab=1
        )
        if fault == 0:
            return np.asarray(found)
    every = np.arange(count)
    rows = np.concatenate([every, pattern.upper, pattern.lower])
    columns = np.concatenate([every, pattern.lower, pattern.upper])
    matrix = scipy.sparse.csc_matrix(
        (np.concatenate([diagonal, across, across]), (rows, columns)), (count,) * 2
    )
    factors = scipy.sparse.linalg.splu(
        matrix, permc_spec="NATURAL", diag_pivot_thresh=0.0, options={"SymmetricMode": True}
    )
    return np.asarray(factors.solve(known))


def _refuse_islands(network: Network, is_fixed: NDArray[np.bool_]) -> None:
    nodes = network.nodes
    if not is_fixed.any():
        raise NetworkError("The network has no source: add a store or a reservoir.")
    shut = np.flatnonzero(~network.pipes.is_open)
    start, end = np.delete(network.start, shut), np.delete(network.end, shut)
    unfed = _unfed(_as_key(is_fixed), _as_key(start), _as_key(end))
    if unfed:
        names = [nodes.ids[i] for i in unfed[:5]]
        raise NetworkError(
            f"No open pipe joins {', '.join(names)} to any source: connect it or remove it."
        )


@lru_cache(maxsize=PATTERNS_KEPT)
def _unfed(fixed: bytes, start: bytes, end: bytes) -> tuple[int, ...]:
    """Nodes that no link joins to a fixed head, by what joins which."""
    is_fixed = _flags_of(fixed)
    island = islands_of(len(is_fixed), _integers_of(start), _integers_of(end))
    return tuple(np.flatnonzero(~np.isin(island, island[is_fixed])).tolist())
