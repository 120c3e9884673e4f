"""The file of a bundle: written, and opened again with everything about it checked before any of it is believed."""

from __future__ import annotations

import csv
import hashlib
import io
import json
import tempfile
import zipfile
import zlib
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import IO, Any

import jsonschema
from django.utils import timezone

from bundle.rows import Json, Rows, rows_of, schemas
from bundle.scope import Scope
from common.problems import Problem
from common.tables import safe
from ember_core import CORE_VERSION
from ember_core.catalogue.entry import WIRING
from ember_core.parts.hardware import Demand
from ember_core.routes.as_wired import Wired
from handover.models import Issue
from loops.models import Loop
from sites.models import Site
from survey.models import Photo
from wording.texts import catalogue

FORMAT = "ember-thread/bundle"
FORMAT_VERSION = 1
MANIFEST = "manifest.json"
SCHEMA = "schema.json"
README = "README.txt"
# What is read of a stranger's file: no more than a site of some hundred loops with its photographs comes to.
MOST_BYTES = 2_000_000_000
MOST_TABLE_BYTES = 200_000_000
MOST_FILES = 40_000
IN_MEMORY_BYTES = 8_000_000
_FIXED_TIME = (2020, 1, 1, 0, 0, 0)


@dataclass(frozen=True, slots=True)
class Opened:
    """A bundle whose checksums and shapes hold.

    Attributes
    ----------
    digest : of what it holds, without when and where it was made: equal for equal content.
    """

    manifest: Json
    rows: Rows
    archive: zipfile.ZipFile
    digest: str

    @property
    def is_whole(self) -> bool:
        """A site, not one loop of it."""
        return bool(self.manifest["scope"] == "site")

    def photograph(self, key: str) -> bytes:
        """A picture as it was kept."""
        return self.archive.read(photograph_name(key))

    def pages(self, key: str) -> bytes:
        """The printed pages of an issue."""
        return self.archive.read(issue_name(key))


def photograph_name(key: Any) -> str:
    """Where a photograph is."""
    return f"photographs/{key}.jpg"


def issue_name(key: Any) -> str:
    """Where the pages of an issue are."""
    return f"issues/{key}.pdf"


def content_digest(files: Iterable[Json]) -> str:
    """One digest over the names and digests of all files."""
    lines = sorted(f"{one['sha256']}  {one['name']}\n" for one in files)
    return hashlib.sha256("".join(lines).encode()).hexdigest()


def write(scope: Scope) -> IO[bytes]:
    """A bundle as an open file, at its beginning."""
    # The file is handed to whoever sends it, and is gone when they close it.
    made = tempfile.SpooledTemporaryFile(max_size=IN_MEMORY_BYTES)  # noqa: SIM115
    files: list[Json] = []
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
        rows = rows_of(scope)
        for name, content in _files(scope, rows):
            _put(archive, name, content)
            files.append({"name": name, "bytes": len(content), "sha256": hashlib.sha256(content).hexdigest()})
        site = Site.everything.get(pk=scope.site)
        manifest: Json = {
            "format": FORMAT,
            "format_version": FORMAT_VERSION,
            "core_version": CORE_VERSION,
            "made_at": timezone.now().isoformat(),
            "scope": "site" if scope.is_whole else "loop",
            "site": {"id": str(site.pk), "name": site.name},
            "loops": [
                {"id": str(loop.pk), "name": loop.name}
                for loop in Loop.everything.filter(pk__in=scope.loops).order_by("name")
            ],
            "content_sha256": content_digest(files),
            "files": files,
        }
        _put(archive, MANIFEST, _json(manifest))
        _put(archive, "SHA256SUMS", "".join(f"{one['sha256']}  {one['name']}\n" for one in files).encode())
    made.seek(0)
    return made


def _put(archive: zipfile.ZipFile, name: str, content: bytes) -> None:
    # Pictures and pages are packed already.
    how = zipfile.ZIP_STORED if name.endswith((".jpg", ".pdf")) else zipfile.ZIP_DEFLATED
    archive.writestr(zipfile.ZipInfo(name, _FIXED_TIME), content, how)


def _json(data: Any) -> bytes:
    return (json.dumps(data, ensure_ascii=False, indent=1) + "\n").encode()


def _files(scope: Scope, rows: Rows) -> Iterator[tuple[str, bytes]]:
    yield README, catalogue("bundle")["readme"].encode()
    yield SCHEMA, _json(schemas(is_whole=scope.is_whole))
    for name, of in rows.items():
        yield f"data/{name}.json", _json(of)
        yield f"csv/{name}.csv", _csv(of)
    for photo in Photo.everything.filter(loop__in=scope.loops).order_by("pk"):
        with photo.file.open("rb") as picture:
            yield photograph_name(photo.pk), picture.read()
    for issue in Issue.objects.filter(loop__in=scope.loops).order_by("pk"):
        yield issue_name(issue.pk), bytes(issue.pdf)


def _csv(rows: list[Json]) -> bytes:
    """The same rows for a spreadsheet; what has parts of its own stands as JSON in its cell."""
    written = io.StringIO()
    table = csv.writer(written)
    if rows:
        table.writerow(rows[0])
    table.writerows([safe(_cell(value)) for value in row.values()] for row in rows)
    return written.getvalue().encode()


def _cell(value: Any) -> str:
    if value is None:
        return ""
    return value if isinstance(value, str) else json.dumps(value, ensure_ascii=False)


def opened(file: IO[bytes]) -> Opened:
    """A bundle that somebody sent.

    Raises
    ------
    Problem : it is no bundle, of a later form, damaged, or something in it has not the shape that it is to have.
    """
    try:
        archive = zipfile.ZipFile(file)
        infos = archive.infolist()
    except (zipfile.BadZipFile, OSError, ValueError, NotImplementedError) as error:
        raise Problem(422, "not_a_bundle", path="file") from error
    names = [one.filename for one in infos]
    if len(names) > MOST_FILES or sum(one.file_size for one in infos) > MOST_BYTES:
        raise Problem(413, "bundle_too_large", path="file", most=MOST_BYTES // 1_000_000)
    if MANIFEST not in names or len(set(names)) != len(names):
        raise Problem(422, "not_a_bundle", path="file")
    manifest = _manifest(archive)
    _check_files(archive, manifest, set(names))
    return Opened(manifest, _tables(archive, manifest), archive, manifest["content_sha256"])


def _manifest(archive: zipfile.ZipFile) -> Json:
    manifest = _read_json(archive, MANIFEST)
    if not isinstance(manifest, dict) or manifest.get("format") != FORMAT:
        raise Problem(422, "not_a_bundle", path="file")
    if manifest.get("format_version") != FORMAT_VERSION:
        raise Problem(422, "bundle_of_other_version", path="file", known=FORMAT_VERSION)
    try:
        jsonschema.validate(manifest, MANIFEST_SHAPE)
    except jsonschema.ValidationError as error:
        raise Problem(422, "not_a_bundle", path="file") from error
    return manifest


_NAMED = {
    "type": "object",
    "properties": {"id": {"type": "string"}, "name": {"type": "string"}},
    "required": ["id", "name"],
}
MANIFEST_SHAPE: Json = {
    "type": "object",
    "properties": {
        "scope": {"enum": ["site", "loop"]},
        "site": _NAMED,
        "loops": {"type": "array", "items": _NAMED},
        "content_sha256": {"type": "string"},
        "core_version": {"type": "string"},
        "made_at": {"type": "string"},
        "files": {
            "type": "array",
            "items": {
                "type": "object",
                "properties": {
                    "name": {"type": "string"},
                    "bytes": {"type": "integer"},
                    "sha256": {"type": "string", "pattern": "^[0-9a-f]{64}$"},
                },
                "required": ["name", "bytes", "sha256"],
            },
        },
    },
    "required": ["scope", "site", "loops", "content_sha256", "core_version", "made_at", "files"],
}


def _read(archive: zipfile.ZipFile, name: str, most: int) -> bytes:
    """A file of it, never more than was said of its size."""
    try:
        if archive.getinfo(name).file_size > most:
            raise Problem(413, "bundle_too_large", path="file", most=most // 1_000_000)
        return archive.read(name)
    except (KeyError, zipfile.BadZipFile, zlib.error, OSError, RuntimeError, ValueError, EOFError) as error:
        raise Problem(422, "bundle_damaged", path="file", name=name) from error


def _read_json(archive: zipfile.ZipFile, name: str) -> Any:
    try:
        return json.loads(_read(archive, name, MOST_TABLE_BYTES), parse_constant=_no_number)
    except (ValueError, RecursionError) as error:
        raise Problem(422, "bundle_damaged", path="file", name=name) from error


def _no_number(text: str) -> Any:
    raise ValueError(text)


def _check_files(archive: zipfile.ZipFile, manifest: Json, names: set[str]) -> None:
    """Everything that it lists is there and as it was, and nothing else is."""
    listed = {one["name"]: one for one in manifest["files"]}
    extra = names - set(listed) - {MANIFEST, "SHA256SUMS"}
    if (
        extra
        or len(listed) != len(manifest["files"])
        or content_digest(manifest["files"]) != manifest["content_sha256"]
    ):
        raise Problem(422, "bundle_damaged", path="file", name=min(extra, default=MANIFEST))
    for name, one in listed.items():
        if hashlib.sha256(_read(archive, name, MOST_TABLE_BYTES)).hexdigest() != one["sha256"]:
            raise Problem(422, "bundle_damaged", path="file", name=name)


def _say_what_hung(measured: Any) -> None:
    """Of a bundle from before that was kept: nobody knows."""
    for row in measured if isinstance(measured, list) else []:
        if isinstance(row, dict):
            row.setdefault("hung", "")


def _say_how_controls_hang(gangs: Any, parts: list[Json]) -> None:
    """Of a bundle from before that was kept, or asked of leaflets: as a copy that is brought up to date has it.

    Parameters
    ----------
    gangs : not yet looked at; what has not the shape of rows is left for whoever looks.
    """
    demanding = {part["id"] for part in parts if any(map(_demands_neutral, part["claims"]))}
    rows = [row for row in gangs if isinstance(row, dict)] if isinstance(gangs, list) else []
    for row in rows:
        controls = row.get("control")
        for control in controls if isinstance(controls, list) else []:
            if isinstance(control, dict) and control.setdefault("wired", Wired.LOOP.value) == Wired.LOOP:
                is_demanding = isinstance(control.get("part"), str) and control["part"] in demanding
                control["wired"] = (Wired.STRAIGHT if is_demanding else Wired.LOOP).value


def _demands_neutral(claim: Json) -> bool:
    is_of_it = claim["in_use"] is True and claim["field"] == f"{WIRING}.neutral"
    return is_of_it and claim["typical"] == list(Demand).index(Demand.REQUIRED)


def _tables(archive: zipfile.ZipFile, manifest: Json) -> Rows:
    shapes = schemas(is_whole=manifest["scope"] == "site")["$defs"]
    rows: Rows = {}
    # Parts first: what their leaflets say is asked for of the gangs.
    for name, shape in sorted(shapes.items(), key=lambda one: one[0] != "parts"):
        rows[name] = _read_json(archive, f"data/{name}.json")
        if name == "gangs":
            _say_how_controls_hang(rows[name], rows["parts"])
        elif name == "measured":
            _say_what_hung(rows[name])
        wrong = next(iter(jsonschema.Draft202012Validator(shape).iter_errors(rows[name])), None)
        if wrong is not None:
            where = ".".join(str(step) for step in wrong.absolute_path)
            raise Problem(422, "bundle_shape", path="file", name=f"{name}: {where}"[:200], reason=wrong.message[:200])
    listed = {one["name"] for one in manifest["files"]}
    wanted = {photograph_name(row["id"]) for row in rows["photographs"]}
    wanted |= {issue_name(row["id"]) for row in rows["issues"]}
    if lost := wanted - listed:
        raise Problem(422, "bundle_damaged", path="file", name=min(lost))
    return rows
