"""The normal posterior of effects and feet for given sites: the linear part of what is learned.

What is seen is of a cell, a sum of effects, less a foot. Effects come in blocks (a model's habit over time and its
sizes' own) that meet only in the core (makers, fitters) and in feet that had pairs of several on. Such feet join the
core; all others are taken out, what couples two effects through them being summed over pairs of sites. Blocks are
eliminated by themselves, the core is solved as one matrix, and of the covariance only what sites ask for is worked out:
so a round costs what the core costs. Where the core is most of it anyway, everything is.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.linalg import LinAlgError
from scipy.linalg.lapack import dpotrf, dpotri, dpotrs

from .observe import Floats, Ints, Told

NOWHERE = -1
"""The foot of what was read in the shoe itself."""
PARTS = 4
"""A cell sums at most so many effects: maker, model, the size's own, fitter."""
NO_EFFECT, CORE = -1, -1
WORTH = 0.45
"""Blocks are taken apart where the core is at most so much of all."""


@dataclass(frozen=True)
class Effects:
    """What cells are sums of: `of` the places of their effects, (cells, `PARTS`), `NO_EFFECT` where there are fewer;
    what each cell has beside, of its own alone, mm², (cells,), of cells that were only measured; and the prior of the
    effects: mean, mm, and precision, mm⁻²."""

    of: Ints
    own: Floats
    mean: Floats
    precision: Floats
    block: Ints | None = None
    """By effect the number of its block, or `CORE`; nothing in the prior couples two blocks. None: all is core."""


@dataclass(frozen=True)
class Seen:
    """Sites, (n,): the cell each is of, the foot (`NOWHERE` for a shoe read by itself), and what was seen, all against
    label and measured foot, mm. `mm` with `sigma` was measured; where it isn't a number, `told` has the verdict."""

    cell: Ints
    foot: Ints
    mm: Floats
    sigma: Floats
    told: Told
    """Of every site; read where nothing was measured."""


@dataclass(frozen=True)
class Solved:
    """A posterior for given sites."""

    mean: Floats
    covered: Floats
    """What is worked out of the covariance, laid flat as the system's layout has it."""
    cell_mean: Floats
    cell_var: Floats
    foot_mean: Floats
    foot_var: Floats
    with_foot: Floats
    """Covariance of each site's cell with the error of the foot it is on."""
    log_whole: float


@dataclass(frozen=True)
class _Layout:
    """Where each pair of variables is kept: blocks (M, D, D), each block with the core (M, D, C), the core (C, C), laid
    flat one after the other, and a last place for what is nothing. By variable its block and its place in it."""

    block: Ints
    inner: Ints
    blocks: int
    deep: int
    core: int

    @classmethod
    def of(cls, block: Ints) -> _Layout:
        """For variables of these blocks."""
        inner = np.zeros(len(block), dtype=np.intp)
        order = np.argsort(block, kind="stable")
        names, first, counts = np.unique(block[order], return_index=True, return_counts=True)
        inner[order] = np.arange(len(block)) - np.repeat(first, counts)
        core = int(counts[names == CORE].sum())
        deep = int(counts[names != CORE].max(initial=0))
        return cls(np.append(block, CORE), np.append(inner, 0), int(block.max(initial=CORE)) + 1, deep, core)

    @property
    def nothing(self) -> int:
        """The last place."""
        return self.blocks * self.deep * (self.deep + self.core) + self.core**2

    def place(self, one: Ints, other: Ints, *, build: bool = False) -> Ints:
        """Where the covariance of one variable with another is, element-wise; the last variable is none. To `build` a
        matrix by sums over both orders, what is kept once is given once."""
        none = len(self.block) - 1
        one, other = np.broadcast_arrays(one, other)
        a, b, i, j = self.block[one], self.block[other], self.inner[one], self.inner[other]
        cores = self.blocks * self.deep * self.deep
        last = cores + self.blocks * self.deep * self.core
        low, high = (j, i) if build else (np.minimum(i, j), np.maximum(i, j))
        found = np.where((a == CORE) & (b == CORE), last + high * self.core + low, self.nothing)
        found = np.where((a != CORE) & (b == CORE), cores + (a * self.deep + i) * self.core + j, found)
        if not build:
            found = np.where((a == CORE) & (b != CORE), cores + (b * self.deep + j) * self.core + i, found)
        found = np.where((a != CORE) & (a == b), (a * self.deep + i) * self.deep + j, found)
        return np.asarray(np.where((one == none) | (other == none), self.nothing, found), dtype=np.intp)

    def parts(self, flat: Floats) -> tuple[Floats, Floats, Floats]:
        """The blocks, each with the core, and the core, of what is laid flat."""
        cores = self.blocks * self.deep * self.deep
        last = cores + self.blocks * self.deep * self.core
        return (
            flat[:cores].reshape(self.blocks, self.deep, self.deep),
            flat[cores:last].reshape(self.blocks, self.deep, self.core),
            flat[last : self.nothing].reshape(self.core, self.core),
        )


def _pairs(foot: Ints, feet: int) -> tuple[Ints, Ints]:
    """Every site on a foot with every one on the same foot, itself too: two arrays of places among `foot`."""
    order = np.argsort(foot, kind="stable")
    of_foot = np.bincount(foot, minlength=feet)
    first = np.cumsum(of_foot) - of_foot
    beside = of_foot[foot[order]]
    one = np.repeat(np.arange(len(foot)), beside)
    along = np.arange(len(one)) - np.repeat(np.cumsum(beside) - beside, beside)
    return order[one], order[first[foot[order]][one] + along]


def _factor(precision: Floats) -> Floats:
    """The lower Cholesky factor. Raises `LinAlgError` where there is none."""
    factor, info = dpotrf(precision, lower=True, overwrite_a=False)
    if info:
        raise LinAlgError(f"not positive definite at {info}")
    return np.asarray(factor)


class System:
    """Effects, feet and sites, to be solved for one precision and natural mean of the sites after the other."""

    def __init__(self, effects: Effects, foot_sigma: Floats, seen: Seen) -> None:
        self.effects = effects
        self.count, self.feet = len(effects.mean), len(foot_sigma)
        self.foot_precision = 1 / np.maximum(foot_sigma, 1e-6) ** 2
        self.on_foot = seen.foot != NOWHERE
        self.row = seen.cell
        self.foot = seen.foot[self.on_foot]
        block = np.full(self.count, CORE, dtype=np.intp) if effects.block is None else effects.block
        self.joined = self._joining(block)
        core = int(np.sum(block == CORE)) + len(self.joined)
        if core > WORTH * self.count:
            block, self.joined = np.full(self.count, CORE, dtype=np.intp), np.empty(0, dtype=np.intp)
        self.layout = at = _Layout.of(np.append(block, np.full(len(self.joined), CORE, dtype=np.intp)))
        none = self.count + len(self.joined)
        self.of = np.where(effects.of == NO_EFFECT, none, effects.of)
        self.of_site = self.of[self.row[self.on_foot]]
        joins = np.full(self.feet + 1, -1, dtype=np.intp)
        joins[self.joined] = self.count + np.arange(len(self.joined))
        self.joins = joins[self.foot] >= 0
        self.variable = joins[self.foot[self.joins]]
        """Of each site whose foot is in the core the foot's variable."""
        self.apart = np.flatnonzero(~self.joins)
        one, other = _pairs(self.foot[self.apart], self.feet)
        self.one, self.other = self.apart[one], self.apart[other]

        def crossed(one: Ints, other: Ints, *, build: bool = False) -> Ints:
            return at.place(one[:, :, None], other[:, None, :], build=build)

        self.cross_build, self.cross = crossed(self.of, self.of, build=True), crossed(self.of, self.of)
        left, right = self.of_site[self.one], self.of_site[self.other]
        self.pair_build, self.pair = crossed(left, right, build=True), crossed(left, right)
        self.with_joined = at.place(self.of_site[self.joins], self.variable[:, None])
        self.joined_alone = at.place(self.variable, self.variable)
        self.inside = np.flatnonzero(at.block[:none] != CORE)
        self.slot = at.block[self.inside] * at.deep + at.inner[self.inside]
        self.outside = np.flatnonzero(at.block[:none] == CORE)
        self.prior = self._prior()
        self.log_prior = self._log_det(self.prior)

    def _joining(self, block: Ints) -> Ints:
        """The feet that had pairs of several blocks on."""
        if not len(self.foot) or not (block != CORE).any():
            return np.empty(0, dtype=np.intp)
        of_cell = np.append(block, CORE)[np.where(self.effects.of == NO_EFFECT, self.count, self.effects.of)].max(
            axis=1
        )
        mine = of_cell[self.row[self.on_foot]]
        low, high = np.full(self.feet, len(block), dtype=np.intp), np.full(self.feet, CORE, dtype=np.intp)
        np.minimum.at(low, self.foot, mine)
        np.maximum.at(high, self.foot, mine)
        return np.flatnonzero(high > low)

    def _prior(self) -> Floats:
        """The precision of all variables before anything was seen, laid flat; what fills a block has one of its own."""
        at = self.layout
        flat = np.zeros(at.nothing + 1)
        blocks, _, core = at.parts(flat)
        blocks[:, range(at.deep), range(at.deep)] = 1.0
        blocks[at.block[self.inside], at.inner[self.inside], at.inner[self.inside]] = 0.0
        some, others = np.nonzero(self.effects.precision)
        flat[at.place(some, others, build=True)] = self.effects.precision[some, others]
        flat[at.nothing] = 0.0
        feet = at.inner[self.count + np.arange(len(self.joined))]
        core[feet, feet] = self.foot_precision[self.joined]
        return flat

    def _log_det(self, flat: Floats) -> float:
        blocks, between, core = self.layout.parts(flat)
        inverse = np.linalg.inv(blocks)
        rest = core - np.einsum("mdc,mde,mef->cf", between, inverse, between, optimize=True) if len(blocks) else core
        inner = float(np.sum(np.log(np.diagonal(np.linalg.cholesky(blocks), axis1=1, axis2=2))))
        feet = float(np.sum(np.log(self.foot_precision[self.joined])))
        return 2 * (inner + float(np.sum(np.log(np.diag(_factor(rest)))))) - feet

    def _summed(self, weight: Floats, of: Ints) -> Floats:
        """Σ of weights on what each is a sum of, (variables,)."""
        count = self.count + len(self.joined)
        every = np.bincount(of.ravel(), np.repeat(weight, of.shape[1]), count + 1)
        return np.asarray(every[:count], float)

    def _flat(self, places: Ints, weight: Floats) -> Floats:
        """Σ of weights at places of what is laid flat."""
        each = np.repeat(weight, places[0].size if len(places) else 0)
        return np.asarray(np.bincount(places.ravel(), each, self.layout.nothing + 1), float)

    def solve(self, tau: Floats, nu: Floats) -> Solved:
        """The posterior with sites of precision `tau` and natural mean `nu`, both (n,). Raises `LinAlgError`."""
        own, where, at = self.effects.own, self.on_foot, self.layout
        by_cell = np.bincount(self.row, tau, len(own))
        softened = by_cell / (1 + own * by_cell)
        pushed = np.bincount(self.row, nu, len(own)) / (1 + own * by_cell)
        felt, said = tau[where], nu[where]
        foot_tau = self.foot_precision + np.bincount(self.foot, felt, self.feet)
        foot_push = -np.bincount(self.foot, said, self.feet)
        shared = -felt[self.one] * felt[self.other] / foot_tau[self.foot[self.one]]
        flat = self.prior + self._flat(self.cross_build, softened) + self._flat(self.pair_build, shared)
        flat += self._flat(self.with_joined, -felt[self.joins])
        flat += np.bincount(self.joined_alone, felt[self.joins], len(flat))
        push = self._summed(pushed, self.of)
        push[: self.count] += self.effects.precision @ self.effects.mean
        push[self.count :] += foot_push[self.joined]
        alone = self.apart
        taken = np.zeros(len(self.foot))
        taken[alone] = felt[alone] * (foot_push / foot_tau)[self.foot[alone]]
        push += self._summed(taken, self.of_site)
        mean, covered, log_det = self._solved(flat, push)
        private = np.ones(self.feet, dtype=bool)
        private[self.joined] = False
        log_whole = 0.5 * float(push @ mean) - 0.5 * log_det
        log_whole += 0.5 * float(np.sum(foot_push[private] ** 2 / foot_tau[private]))
        log_whole -= 0.5 * float(np.sum(np.log(foot_tau[private] / self.foot_precision[private])))
        every = np.append(mean, 0.0)
        with_foot = np.zeros(len(self.foot))
        between = covered[self.pair].sum(axis=(1, 2)) * felt[self.other]
        with_foot[alone] = (np.bincount(self.one, between, len(self.foot)) / foot_tau[self.foot])[alone]
        with_foot[self.joins] = covered[self.with_joined].sum(axis=1)
        cells = every[self.of_site].sum(axis=1)
        foot_mean = (foot_push + np.bincount(self.foot, felt * cells, self.feet)) / foot_tau
        foot_var = 1 / foot_tau + np.bincount(self.foot, felt * with_foot, self.feet) / foot_tau
        foot_mean[self.joined] = mean[self.count :]
        variables = self.count + np.arange(len(self.joined))
        foot_var[self.joined] = covered[at.place(variables, variables)]
        return Solved(
            mean=mean[: self.count],
            covered=covered,
            cell_mean=every[self.of].sum(axis=1),
            cell_var=covered[self.cross].sum(axis=(1, 2)),
            foot_mean=foot_mean,
            foot_var=foot_var,
            with_foot=with_foot,
            log_whole=log_whole,
        )

    def _solved(self, flat: Floats, push: Floats) -> tuple[Floats, Floats, float]:
        """Mean, what is asked for of the covariance, laid flat, and log determinant, for a precision laid flat; the
        feet's prior not counted."""
        at = self.layout
        blocks, between, core = at.parts(flat)
        inverse = np.linalg.inv(blocks)
        by_core = inverse @ between
        tall = (at.blocks * at.deep, at.core)
        first = np.zeros(tall[0])
        first[self.slot] = push[self.inside]
        factor = _factor(core - between.reshape(tall).T @ by_core.reshape(tall) if at.blocks else core)
        outer, _ = dpotrs(factor, push[self.outside] - by_core.reshape(tall).T @ first, lower=True)
        log_det = 2 * float(np.sum(np.log(np.diag(factor)))) - float(np.sum(np.log(self.foot_precision[self.joined])))
        covered = dpotri(factor, lower=True, overwrite_c=True)[0]
        mean = np.zeros(len(push))
        mean[self.outside] = outer
        if not at.blocks:
            return mean, np.append(covered.ravel(), 0.0), log_det
        log_det += 2 * float(np.sum(np.log(np.diagonal(np.linalg.cholesky(blocks), axis1=1, axis2=2))))
        inner = (inverse @ first.reshape(at.blocks, at.deep, 1)).ravel() - by_core.reshape(tall) @ outer
        mean[self.inside] = inner[self.slot]
        covered = np.tril(covered) + np.tril(covered, -1).T
        outwards = (by_core.reshape(tall) @ covered).reshape(at.blocks, at.deep, at.core)
        own = inverse + outwards @ by_core.transpose(0, 2, 1)
        return mean, np.concatenate([own.ravel(), -outwards.ravel(), covered.ravel(), [0.0]]), log_det

    def of_sites(self, found: Solved) -> tuple[Floats, Floats]:
        """Mean and variance of what each site on a foot is about: the cell's departure less the foot's error."""
        row = self.row[self.on_foot]
        mean = found.cell_mean[row] - found.foot_mean[self.foot]
        var = found.cell_var[row] + found.foot_var[self.foot] - 2 * found.with_foot
        return mean, np.maximum(var, 1e-12)

    def between(self, found: Solved, one: Ints, other: Ints) -> Floats:
        """Covariance of effects with others, element-wise, mm². Raises `ValueError` for those of two blocks."""
        at = self.layout.place(one, other)
        if (at == self.layout.nothing).any():
            raise ValueError("of two blocks nothing is known together")
        return np.asarray(found.covered[at])

    def state_foot(self, found: Solved, tau: Floats) -> Floats:
        """Covariance of effects with each foot's error, mm², (effects, feet), for sites of precision `tau`, where all
        is core."""
        every = np.arange(self.count)
        cov = self.between(found, every[:, None], every[None, :])
        parts = self.of_site.shape[1]
        places = self.of_site * max(self.feet, 1) + self.foot[:, None]
        size = (self.count + 1) * max(self.feet, 1)
        felt = tau[self.on_foot]
        between = np.bincount(places.ravel(), np.repeat(felt, parts), size).reshape(self.count + 1, -1)
        foot_tau = self.foot_precision + np.bincount(self.foot, felt, self.feet)
        return np.asarray(cov @ between[: self.count, : self.feet] / foot_tau)

    def cells(self, found: Solved, tau: Floats, nu: Floats) -> tuple[Floats, Floats]:
        """Mean and standard deviation of every cell, with what it has of its own."""
        own = self.effects.own
        by_cell = np.bincount(self.row, tau, len(own)).astype(float)
        pushed = np.bincount(self.row, nu, len(own)).astype(float)
        read = np.divide(pushed, by_cell, out=np.zeros_like(by_cell), where=by_cell > 0)
        gain = own * by_cell / (1 + own * by_cell)
        mean = found.cell_mean + gain * (read - found.cell_mean)
        return mean, np.sqrt((1 - gain) ** 2 * found.cell_var + own * (1 - gain))
