"""Which nodes of a network hang together."""

import numpy as np
import scipy
from numpy.typing import NDArray

Integers = NDArray[np.intp]


def islands_of(count: int, start: Integers, end: Integers) -> Integers:
    """Number of the island that each of `count` nodes lies on, along links by their two nodes.

    Examples
    --------
    >>> islands_of(4, np.array([0, 2]), np.array([2, 3])).tolist()
    [0, 1, 0, 0]
    """
    graph = scipy.sparse.csr_matrix((np.ones(len(start)), (start, end)), (count, count))
    _, island = scipy.sparse.csgraph.connected_components(graph, directed=False)
    return np.asarray(island, dtype=np.intp)
