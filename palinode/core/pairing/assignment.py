"""One-to-one: of all candidates those pairs that are together most certain, no page in two of them."""

import numpy as np
from scipy.optimize import linear_sum_assignment
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

_LARGEST = 600
"""Pages of a group that are assigned at once; larger groups are taken most certain first."""


def one_to_one(left: np.ndarray, right: np.ndarray, certainty: np.ndarray) -> np.ndarray:
    """Return bool (c,): the candidates chosen. Each (left, right) is given once, in any order."""
    chosen = np.zeros(len(left), bool)
    if not len(left):
        return chosen
    lefts, rights = int(left.max()) + 1, int(right.max()) + 1
    graph = coo_array((np.ones(len(left)), (left, lefts + right)), (lefts + rights, lefts + rights))
    group = connected_components(graph, directed=False)[1][left]
    order = np.argsort(group, kind="stable")
    for part in np.split(order, np.flatnonzero(np.diff(group[order])) + 1):
        if len(part) == 1:
            chosen[part] = True
            continue
        rows, row = np.unique(left[part], return_inverse=True)
        columns, column = np.unique(right[part], return_inverse=True)
        if len(rows) * len(columns) > _LARGEST**2:
            chosen[_greedy(part, left, right, certainty)] = True
            continue
        gain = np.zeros((len(rows), len(columns)))
        place = np.full((len(rows), len(columns)), -1)
        # The logarithm of the odds: what makes all chosen pairs together most likely.
        gain[row, column] = np.maximum(np.log(certainty[part] / (1 - certainty[part])) + 10, 1e-9)
        place[row, column] = part
        picked = place[linear_sum_assignment(gain, maximize=True)]
        chosen[picked[picked >= 0]] = True
    return chosen


def _greedy(part: np.ndarray, left: np.ndarray, right: np.ndarray, certainty: np.ndarray) -> list[int]:
    taken_left: set[int] = set()
    taken_right: set[int] = set()
    chosen = []
    for one in part[np.lexsort((right[part], left[part], -certainty[part]))].tolist():
        if int(left[one]) not in taken_left and int(right[one]) not in taken_right:
            taken_left.add(int(left[one]))
            taken_right.add(int(right[one]))
            chosen.append(one)
    return chosen
