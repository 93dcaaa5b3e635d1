"""The dependency graph of installed packages and the two questions asked of it.

What goes with a set is what its registry would take: reachability from everything asked for, with and without
the set and whatever depends on it (apt's own rule, apt-get(8) autoremove). What is an application's own part
is what it dominates: every way from what was asked for to the package leads through it."""

from __future__ import annotations

import re
from collections import defaultdict, deque
from dataclasses import dataclass, field
from functools import cached_property

from swept_shelf.core.registries.debian.package import DebianRegistry, Package

_WORD = re.compile(r"^\s*([^\s(:\[]+)(?::(\S+))?\s*(?:\(\s*([<>=]+)\s*([^)\s]+)\s*\))?")


@dataclass
class Graph:
    """Packages by number. `hard` lists, per package, its or-groups of numbers that satisfy a dependency."""

    names: list[str]
    number: dict[str, int]
    roots: set[int]
    needs: list[set[int]]
    hard: list[list[frozenset[int]]]
    edges: list[tuple[int, int, str, int]] = field(default_factory=list)

    def dependents(self, gone: set[int]) -> set[int]:
        """`gone` and everything that could not stay without it: a package goes when all that meet one of its needs are gone."""
        gone, stack = set(gone), list(gone)
        left: dict[tuple[int, int], int] = {}
        while stack:
            for p, place in self._met_by[stack.pop()]:
                if p not in gone:
                    left[p, place] = left.get((p, place), len(self.hard[p][place])) - 1
                    if not left[p, place]:
                        gone.add(p)
                        stack.append(p)
        return gone

    @cached_property
    def _met_by(self) -> list[list[tuple[int, int]]]:
        """Per package, the needs (package, place in `hard`) that it meets."""
        found: list[list[tuple[int, int]]] = [[] for _ in self.names]
        for p, groups in enumerate(self.hard):
            for place, group in enumerate(groups):
                for other in group:
                    found[other].append((p, place))
        return found

    @cached_property
    def _users(self) -> list[list[int]]:
        found: list[list[int]] = [[] for _ in self.names]
        for p, children in enumerate(self.needs):
            for child in children:
                found[child].append(p)
        return found

    @cached_property
    def _reached(self) -> set[int]:
        return self._below(self.roots)

    def _below(self, tops: set[int]) -> set[int]:
        """`tops` and everything they lead to."""
        seen, stack = set(tops), list(tops)
        while stack:
            for child in self.needs[stack.pop()]:
                if child not in seen:
                    seen.add(child)
                    stack.append(child)
        return seen

    def lost(self, gone: set[int]) -> set[int]:
        """What something asked for leads to, and nothing asked for leads to any more once `gone` is taken away.

        Only what lies below `gone` can be lost; of that, what is asked for itself, or used from elsewhere, stays with
        all it leads to."""
        below, reached = self._below(gone) - gone, self._reached
        stays = {
            n
            for n in below
            if n in self.roots
            or any(u in reached and u not in below and u not in gone for u in self._users[n])
        }
        stack = list(stays)
        while stack:
            for child in self.needs[stack.pop()]:
                if child in below and child not in stays:
                    stays.add(child)
                    stack.append(child)
        return (below & reached) - stays

    def goes_with(self, asked: set[str]) -> list[str]:
        """Exactly what the registry takes for `asked`: dependents, then what nothing asked for needs any more."""
        gone = self.dependents({self.number[n] for n in asked if n in self.number})
        return sorted(self.names[i] for i in self.dependents(gone | self.lost(gone)))

    def ways(self) -> list[int]:
        """For each package the one before it on a shortest way from something asked for; -1 at the start of a
        way, -2 where nothing leads to it."""
        before = [-2] * len(self.names)
        queue = deque(sorted(self.roots))
        for root in queue:
            before[root] = -1
        while queue:
            here = queue.popleft()
            for child in sorted(self.needs[here]):
                if before[child] == -2:
                    before[child] = here
                    queue.append(child)
        return before

    def why(self, name: str, ways: list[int]) -> list[str]:
        """The shortest chain from something asked for down to `name`; [] when nothing leads to it."""
        here = self.number[name]
        if ways[here] == -2:
            return []
        chain: list[str] = []
        while here >= 0:
            chain.append(self.names[here])
            here = ways[here]
        return chain[::-1]

    def dominators(self) -> list[int]:
        """Immediate dominator of each package under a root above everything asked for (number len(names));
        -1 where nothing leads to it. Cooper, Harvey and Kennedy, A Simple, Fast Dominance Algorithm (2001)."""
        top = len(self.names)
        order: list[int] = []
        seen = {top}
        stack: list[tuple[int, list[int]]] = [(top, sorted(self.roots))]
        while stack:
            node, children = stack[-1]
            if not children:
                order.append(node)
                stack.pop()
            elif (child := children.pop()) not in seen:
                seen.add(child)
                stack.append((child, sorted(self.needs[child])))
        position = {node: i for i, node in enumerate(order)}
        above: dict[int, list[int]] = defaultdict(list)
        for node in order:
            for child in self.roots if node == top else self.needs[node]:
                above[child].append(node)
        idom = {top: top}
        changed = True
        while changed:
            changed = False
            for node in reversed(order[:-1]):
                best = -1
                for p in above[node]:
                    if p in idom:
                        best = p if best < 0 else _meet(idom, position, p, best)
                if idom.get(node) != best:
                    idom[node] = best
                    changed = True
        return [idom.get(i, -1) for i in range(top)]


def _meet(idom: dict[int, int], position: dict[int, int], a: int, b: int) -> int:
    while a != b:
        while position[a] < position[b]:
            a = idom[a]
        while position[b] < position[a]:
            b = idom[b]
    return a


def build_graph(registry: DebianRegistry) -> Graph:
    """The graph of what is installed, alternatives and virtual packages as the registry resolves them."""
    packages = [p for p in registry.packages.values() if p.installed]
    names = [p.name for p in packages]
    number = {n: i for i, n in enumerate(names)}
    providers: dict[str, list[int]] = defaultdict(list)
    for i, p in enumerate(packages):
        providers[p.plain_name].append(i)
        for provided in p.provides.split(","):
            if match := _WORD.match(provided):
                providers[match[1]].append(i)
    never = [re.compile(pattern) for pattern in registry.never_remove]
    graph = Graph(names, number, set(), [set() for _ in names], [[] for _ in names])
    for i, p in enumerate(packages):
        if _is_root(p, registry, never):
            graph.roots.add(i)
        choice = 0
        for text, kind in ((p.depends, "depends"), (p.recommends, "recommends"), (p.suggests, "suggests")):
            counts = kind == "depends" or (
                registry.keeps_recommends if kind == "recommends" else registry.keeps_suggests
            )
            for group in text.split(","):
                found = frozenset(
                    j
                    for word in group.split("|")
                    if (m := _WORD.match(word))
                    for j in providers.get(m[1], ())
                    if j != i
                )
                choice += 1
                if kind == "depends" and group.strip():
                    graph.hard[i].append(found)
                if counts:
                    graph.needs[i] |= found
                    graph.edges.extend((i, j, kind, choice) for j in sorted(found))
    return graph


def graph_from_rows(packages: list[tuple[str, bool]], edges: list[tuple[str, str, str, int]]) -> Graph:
    """The graph again from a survey's index: (name, kept by itself) and counted edges with their choices."""
    names = [n for n, _ in packages]
    number = {n: i for i, n in enumerate(names)}
    graph = Graph(
        names,
        number,
        {i for i, (_, root) in enumerate(packages) if root},
        [set() for _ in names],
        [[] for _ in names],
    )
    groups: dict[tuple[int, int], set[int]] = defaultdict(set)
    for package, needs, kind, choice in edges:
        i, j = number[package], number[needs]
        graph.needs[i].add(j)
        if kind == "depends":
            groups[i, choice].add(j)
    for (i, _), found in sorted(groups.items()):
        graph.hard[i].append(frozenset(found))
    return graph


def _is_root(package: Package, registry: DebianRegistry, never: list[re.Pattern[str]]) -> bool:
    return (
        package.name not in registry.automatic
        or package.essential
        or package.protected
        or package.name in registry.required
        or any(p.search(package.plain_name) for p in never)
    )
