"""The inventory for other programs: CSV (RFC 4180) of what is shown, and CycloneDX 1.6 of everything."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from urllib.parse import urlsplit

from swept_shelf.core.documents.errors import printable
from swept_shelf.core.documents.survey import Application, LeftBehind, Survey
from swept_shelf.core.documents.terms import Kind
from swept_shelf.core.documents.times import rfc3339

COLUMNS = (
    "id",
    "name",
    "version",
    "registry",
    "type",
    "publisher",
    "bytes",
    "comes_back",
    "last_used",
    "certainty",
    "last_used_by",
    "installed",
    "requested_by",
    "protected",
    "packages",
    "people",
    "volumes",
    Kind.PROGRAM,
    Kind.SUPPORT,
    Kind.PREFERENCES,
    Kind.CACHE,
    Kind.STATE,
    Kind.LOG,
)


def inventory_csv(survey: Survey, entries: Iterable[Application | LeftBehind]) -> bytes:
    """One row per entry in the order given, a head row first, UTF-8. Sizes in allocated bytes, times in UTC.

    A text that a spreadsheet would take for a formula gets an apostrophe in front."""
    made = io.StringIO()
    writer = csv.writer(made)
    writer.writerow(COLUMNS)
    mounts = {v.id: v.mount for v in survey.volumes}
    for e in entries:
        app = e if isinstance(e, Application) else None
        used = app.last_use if app else None
        kinds = e.bytes
        row = (
            e.id,
            e.name,
            app.version if app else "",
            app.registry if app else "left",
            app.type if app else "",
            app.publisher if app else "",
            kinds.total,
            app.comes_back if app else kinds.total,
            rfc3339(used.at) if used and used.at else "",
            used.certainty if used else "",
            used.person if used else "",
            rfc3339(app.installed.known) if app and app.installed.known else "",
            app.requested_by if app else "",
            (app.protected or "") if app else "",
            " ".join(app.packages) if app else "",
            " ".join(sorted({b.person for b in e.belongings})),
            " ".join(sorted({mounts.get(b.volume, b.volume) for b in e.belongings})),
            kinds.program,
            kinds.support,
            kinds.preferences,
            kinds.cache,
            kinds.state,
            kinds.log,
        )
        writer.writerow([plain_cell(c) if isinstance(c, str) else c for c in row])
    return made.getvalue().encode("utf-8")


def plain_cell(text: str) -> str:
    """A text as a cell of a table that spreadsheets read: never a formula."""
    text = printable(text)
    return "'" + text if text[:1] in ("=", "+", "-", "@", "\t") else text


def is_web_address(text: str) -> bool:
    """Whether a text of a package may be passed on as a link: http or https with a host, and nothing that is no address."""
    try:
        parts = urlsplit(text)
    except ValueError:
        return False
    return (
        parts.scheme in ("http", "https") and bool(parts.hostname) and text.isprintable() and " " not in text
    )


def inventory_cyclonedx(survey: Survey) -> bytes:
    """A CycloneDX 1.6 document (ECMA-424): each application with its packages below it, the system's packages beside."""
    from cyclonedx.model import Property, XsUri
    from cyclonedx.model.bom import Bom
    from cyclonedx.model.component import Component, ComponentType
    from cyclonedx.model.contact import OrganizationalEntity
    from cyclonedx.output import make_outputter
    from cyclonedx.schema import OutputFormat, SchemaVersion
    from packageurl import PackageURL

    distribution = printable(survey.machine.os.split()[0].lower()) if survey.machine.os.strip() else "debian"

    def url(registry: str, name: str, version: str | None) -> PackageURL | None:
        """The package URL (purl-spec) of a package of one of the registries that have a type there; none for what is no name."""
        name, version = printable(name), printable(version) if version else None
        try:
            return made_url(registry, name, version)
        except ValueError:
            return None

    def made_url(registry: str, name: str, version: str | None) -> PackageURL | None:
        if registry == "debian":
            plain, _, architecture = name.partition(":")
            return PackageURL(
                "deb", distribution, plain, version, {"arch": architecture} if architecture else None
            )
        if registry == "rpm":
            plain, _, architecture = name.rpartition(".")
            return PackageURL(
                "rpm", distribution, plain, version, {"arch": architecture} if architecture else None
            )
        kind = {"pip": "pypi", "pipx": "pypi", "npm": "npm", "cargo": "cargo", "gem": "gem"}.get(registry)
        space, _, plain = name.rpartition("/") if kind == "npm" else ("", "", name)
        return PackageURL(kind, space or None, plain, version) if kind else None

    def package(registry: str, name: str) -> Component:
        name = printable(name)
        plain = name.partition(":")[0] if registry == "debian" else name
        return Component(
            name=plain,
            type=ComponentType.LIBRARY,
            bom_ref=f"package:{registry}:{name}",
            purl=url(registry, name, None),
        )

    bom, listed = Bom(), set[tuple[str, str]]()
    bom.metadata.timestamp = survey.surveyed_at
    bom.metadata.component = Component(
        name=printable(survey.machine.name), type=ComponentType.DEVICE, bom_ref="machine"
    )
    for a in survey.applications:
        made = Component(
            name=printable(a.name),
            version=printable(a.version) or None,
            type=ComponentType.APPLICATION,
            bom_ref=printable(a.id),
            description=printable(a.summary) or None,
            publisher=printable(a.publisher) or None,
            supplier=OrganizationalEntity(name=printable(a.publisher)) if a.publisher else None,
        )
        if a.own_packages:
            made.purl = url(a.registry, a.own_packages[0], a.version)
        if is_web_address(a.homepage):
            from cyclonedx.model import ExternalReference, ExternalReferenceType

            made.external_references.add(
                ExternalReference(type=ExternalReferenceType.WEBSITE, url=XsUri(a.homepage))
            )
        used = rfc3339(a.last_use.at) if a.last_use.at else ""
        facts = {
            "bytes": str(a.bytes.total),
            "comes_back": str(a.comes_back),
            "registry": a.registry,
            "last_used": used,
        }
        made.properties.update(Property(name=f"swept-shelf:{k}", value=v) for k, v in facts.items() if v)
        made.components.update(
            package(a.registry, p) for p in a.own_packages[1:] if (a.registry, p) not in listed
        )
        listed |= {(a.registry, p) for p in a.own_packages}
        bom.components.add(made)
    bom.components.update(package("debian", p) for p in survey.system.packages)
    bom.register_dependency(bom.metadata.component, bom.components)
    text = make_outputter(bom, OutputFormat.JSON, SchemaVersion.V1_6).output_as_string(indent=1)
    return text.encode("utf-8") + b"\n"
