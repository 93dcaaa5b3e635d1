"""What goes with what: our computation against the definition itself, on any graph."""

from __future__ import annotations

from dataclasses import replace

from hypothesis import given, settings
from hypothesis import strategies as st

from swept_shelf.core.applications.graph import Graph, build_graph, graph_from_rows
from swept_shelf.core.registries.debian.package import DebianRegistry, Package

NAMES = "abcdefgh"


def reachable(graph, without):
    """Plainly: everything that a way from what was asked for leads to, `without` taken away."""
    seen, stack = set(), [r for r in graph.roots if r not in without]
    while stack:
        here = stack.pop()
        if here not in seen:
            seen.add(here)
            stack += [c for c in graph.needs[here] if c not in without]
    return seen


def package(name: str, depends: str = "", recommends: str = "", provides: str = "", **more) -> Package:
    plain = {
        "version": "1",
        "architecture": "all",
        "want": "install",
        "status": "installed",
        "error": "ok",
        "section": "x",
        "priority": "optional",
        "essential": False,
        "protected": False,
        "source": name,
        "homepage": "",
        "maintainer": "",
        "summary": "",
        "suggests": "",
        "conffiles": (),
        "changed_at": None,
        "said_bytes": 0,
        "files": (),
    }
    return Package(name=name, depends=depends, recommends=recommends, provides=provides, **(plain | more))


def registry(packages: list[Package], automatic: str, recommends: bool = True) -> DebianRegistry:
    return DebianRegistry(
        {p.name: p for p in packages}, frozenset(automatic), (), {}, None, recommends, True, (), ()
    )


@st.composite
def graphs(draw) -> Graph:
    depends = {
        n: draw(st.lists(st.lists(st.sampled_from(NAMES), min_size=1, max_size=2), max_size=3)) for n in NAMES
    }
    packages = [package(n, ", ".join(" | ".join(g) for g in depends[n])) for n in NAMES]
    return build_graph(registry(packages, "".join(draw(st.sets(st.sampled_from(NAMES))))))


def by_definition(graph: Graph, asked: set[str]) -> set[str]:
    """Slow and plain: repeat 'what cannot stay goes', then 'what nothing asked for leads to goes', by walking."""
    gone = {graph.number[n] for n in asked}
    changed = True
    while changed:
        changed = False
        for p in range(len(graph.names)):
            if p not in gone and any(g and all(x in gone for x in g) for g in graph.hard[p]):
                gone.add(p)
                changed = True

    def led_to(without: set[int]) -> set[int]:
        seen: set[int] = set()

        def walk(p: int) -> None:
            if p not in seen and p not in without:
                seen.add(p)
                for child in graph.needs[p]:
                    walk(child)

        for root in graph.roots:
            walk(root)
        return seen

    gone |= led_to(set()) - led_to(gone)
    while more := {
        p for p in range(len(graph.names)) if p not in gone and any(g and g <= gone for g in graph.hard[p])
    }:
        gone |= more
    return {graph.names[i] for i in gone}


@given(graphs(), st.sets(st.sampled_from(NAMES), min_size=1, max_size=3))
def test_what_goes_is_what_the_definition_says(graph, asked):
    assert set(graph.goes_with(asked)) == by_definition(graph, asked)


@given(graphs())
@settings(max_examples=60)
def test_a_dominator_is_on_every_way(graph):
    """Taking the dominator away leaves no way from what was asked for."""
    idom = graph.dominators()
    for i, above in enumerate(idom):
        reached = i in reachable(graph, set())
        assert (above == -1) == (not reached)
        if reached and above < len(graph.names) and i not in graph.roots:
            assert i not in reachable(graph, {above})


@given(graphs(), st.sets(st.sampled_from(NAMES), min_size=1, max_size=3))
def test_the_graph_comes_back_from_the_index(graph, asked):
    rows = [(n, graph.number[n] in graph.roots) for n in graph.names]
    edges = [(graph.names[a], graph.names[b], k, c) for a, b, k, c in graph.edges]
    assert graph_from_rows(rows, edges).goes_with(asked) == graph.goes_with(asked)


def test_alternatives_virtual_packages_and_recommends_count_as_apt_counts_them():
    packages = [
        package("app", "lib | other, virtual", recommends="extra"),
        package("lib"),
        package("other"),
        package("real", provides="virtual (= 1)"),
        package("extra"),
        package("stays", "lib"),
    ]
    auto = frozenset({"lib", "other", "real", "extra"})
    kept = DebianRegistry({p.name: p for p in packages}, auto, (), {}, None, True, True, (), ())
    assert build_graph(kept).goes_with({"app"}) == ["app", "extra", "other", "real"]
    told = DebianRegistry({p.name: p for p in packages}, auto, (), {}, None, False, True, ("^other$",), ())
    assert build_graph(told).goes_with({"app"}) == ["app", "real"]


def test_what_apt_keeps_for_its_priority_stays_though_nothing_asked_for_needs_it():
    packages = {p.name: p for p in (package("app", "lib, base"), package("lib"), package("base"))}
    free = DebianRegistry(packages, frozenset({"lib", "base"}), (), {}, None, True, True, (), ())
    assert build_graph(free).goes_with({"app"}) == ["app", "base", "lib"]
    assert build_graph(replace(free, required=frozenset({"base"}))).goes_with({"app"}) == ["app", "lib"]


def test_what_depends_on_it_goes_along_unless_an_alternative_stays():
    graph = build_graph(registry([package("a"), package("b", "a"), package("c", "a | d"), package("d")], ""))
    assert graph.goes_with({"a"}) == ["a", "b"]


def test_why_it_is_here_is_the_shortest_chain():
    graph = build_graph(
        registry(
            [package("a", "b, c"), package("b", "d"), package("c", "d"), package("d"), package("e", "d")],
            "bcd",
        )
    )
    assert graph.why("d", graph.ways()) == ["e", "d"]
    assert graph.why("a", graph.ways()) == ["a"]
