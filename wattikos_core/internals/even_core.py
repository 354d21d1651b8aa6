"""A core that a stream passes evenly: effectiveness and NTU, unmixed within a pass, what is in the tubes mixed between two.

Of one pass this is crossflow with both streams unmixed (Kays and London 1984, Compact Heat Exchangers, 3rd edition, chapter 2).
"""

from __future__ import annotations

import math
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

# Pieces of a pass along its tubes and along the stream: the second-order march is within 1e-4 of the series then.
_ALONG, _ACROSS = 48, 48


def even_conductance(conductance: float, stream: float, liquid: float, passes: int, counter: bool) -> float:
    """Heat over the difference of the temperatures at which both enter, W/K.

    Args:
        conductance: UA of all the core, W/K.
        stream: heat capacity rate of what passes across it, W/K.
        liquid: that of what flows in the tubes, W/K; infinite where it condenses or boils.
        passes: of the tubes, one behind the other along the stream.
        counter: whether the tubes' stream enters where the other leaves.

    Example:
        A condenser, 1 - exp(-NTU), and one pass of crossflow at NTU 1 and equal capacity rates:

        >>> round(even_conductance(1.0, 1.0, float("inf"), 1, True), 4)
        0.6321
        >>> round(even_conductance(1.0, 1.0, 1.0, 1, True), 3)
        0.476
    """
    if conductance <= 0.0 or stream <= 0.0 or liquid <= 0.0:
        return 0.0
    if math.isinf(liquid):
        return stream * (1.0 - math.exp(-conductance / stream))
    # The stream enters at 0 and the liquid at 1. A pass turns the profile of the stream along the tubes and one temperature of the
    # liquid into others, linearly: profiles are carried as shares of what enters each pass.
    onto_stream, of_liquid, from_stream, kept = _one_pass(conductance / passes, stream, liquid)
    order = list(range(passes))[::-1] if counter else list(range(passes))
    # `entering[k]`: temperature at which the liquid enters the pass that stands k-th in the stream; its unknowns.
    profile = np.zeros((_ALONG, passes))
    leaving = np.zeros((passes, passes))
    for k in range(passes):
        ahead = profile[::-1] if order.index(k) % 2 else profile
        one = np.zeros(passes)
        one[k] = 1.0
        leaving[k] = from_stream @ ahead + kept * one
        behind = onto_stream @ ahead + np.outer(of_liquid, one)
        profile = behind[::-1] if order.index(k) % 2 else behind
    matrix, right = np.eye(passes), np.zeros(passes)
    right[order[0]] = 1.0
    for before, after in pairwise(order):
        matrix[after] -= leaving[before]
    entering = np.linalg.solve(matrix, right)
    return float(liquid * (1.0 - leaving[order[-1]] @ entering))


def _one_pass(conductance: float, stream: float, liquid: float) -> tuple[Array, Array, Array, float]:
    """What leaves one pass: the stream's profile by what enters it (n, n) and by the liquid (n,), and the liquid by both."""
    ua = conductance / (_ALONG * _ACROSS)
    hot, cold = liquid / _ACROSS, stream / _ALONG
    # Of each small piece, by means of both: c1 (l' - l) = -q, c2 (a' - a) = q, q = UA (l + l' - a - a') / 2.
    a, b = ua / (2.0 * hot), ua / (2.0 * cold)
    whole = 1.0 + a + b
    # Columns: the stream's profile, then the liquid.
    air = np.concatenate([np.eye(_ALONG), np.zeros((_ALONG, 1))], axis=1)
    out = np.zeros(_ALONG + 1)
    for _ in range(_ACROSS):
        tube = np.zeros(_ALONG + 1)
        tube[-1] = 1.0
        for i in range(_ALONG):
            difference = (tube - air[i]) * (2.0 / whole)
            tube, air[i] = tube - a * difference, air[i] + b * difference
        out += tube / _ACROSS
    return air[:, :-1], air[:, -1], out[:-1], float(out[-1])
