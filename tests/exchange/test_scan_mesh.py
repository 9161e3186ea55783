import numpy as np
import pytest
import trimesh

from stirrup.core.errors import CoreError
from stirrup.core.hull.mesh import TOP, build_surface
from stirrup.core.hull.model import Hull, QuickStart
from stirrup.core.plan.start import new_plan
from stirrup.exchange.scan_mesh import ScanWishes, guess_unit, look_at, read_scan, scan_result

TURN = trimesh.transformations.euler_matrix(0.10, -0.06, 2.2)[:3, :3]
SHIFT = np.array([350.0, -90.0, 1200.0])


def scan_of(shape: str = "vee") -> tuple[Hull, trimesh.Trimesh]:
    """A hull, and the mesh of its skin without the top in millimetres, lying anyhow."""
    boat = new_plan("Marsh Wren", QuickStart(shape=shape)).hull
    outside = build_surface(boat).outside
    skin = outside.corners[np.array([g != TOP for g in outside.groups])]
    mesh = trimesh.Trimesh(**trimesh.triangles.to_kwargs(skin * 1000))
    return boat, trimesh.Trimesh(mesh.vertices @ TURN.T + SHIFT, mesh.faces, process=False)


def lying(point: tuple[float, float, float]) -> tuple[float, float, float]:
    x, y, z = TURN @ (np.array(point) * 1000) + SHIFT
    return (float(x), float(y), float(z))


def picks_of(boat: Hull):
    keel, top = boat.lines[0].points, boat.lines[-1].points[-1]
    return lying(keel[0]), lying(keel[3]), lying((top[0], 0.0, top[2]))


@pytest.mark.parametrize("kind", ["stl", "obj", "ply"])
def test_each_kind_of_file_gives_the_hull_back(kind: str) -> None:
    boat, mesh = scan_of()
    data = mesh.export(file_type=kind)
    read = read_scan(data.encode() if isinstance(data, str) else data, f"boat.{kind.upper()}")
    assert guess_unit(float(max(read.extents))) == "mm"
    result = scan_result(read, ScanWishes("mm", picks_of(boat)))
    assert result.scanned.apart_m < 0.003
    # each reading lies on its line of the hull, wherever along it the station fell
    for found, true in zip(result.scanned.averaged(), build_surface(boat).lines[0], strict=True):
        u = np.linspace(0, len(true) - 1, 4000)
        dense = np.column_stack([np.interp(u, np.arange(len(true)), true[:, k]) for k in range(3)])
        off = [float(np.linalg.norm(dense - p, axis=1).min()) for p in np.array(found.points)]
        assert max(off[:-1]) < 0.008, (found.name, off)
        assert off[-1] < 0.025  # at the stem the three lines run into one another
    lines = [line.model_dump() for line in result.scanned.averaged()]
    again = build_surface(Hull.model_validate({**boat.model_dump(), "lines": lines}))
    assert again.outside.volume_m3 == pytest.approx(build_surface(boat).outside.volume_m3, rel=0.005)


@pytest.mark.parametrize(
    ("shape", "lines"),
    [
        ("jet, centre pad", "keel, bottom knuckle, chine, sheer"),
        ("flat bottom, square bow", "keel, chine, sheer"),
        ("round bilge", "keel, bilge lines, sheer"),
    ],
)
def test_other_families_keep_their_volume(shape: str, lines: str) -> None:
    boat, mesh = scan_of(shape)
    result = scan_result(mesh, ScanWishes("mm", picks_of(boat), lines))
    data = [line.model_dump() for line in result.scanned.averaged()]
    again = build_surface(Hull.model_validate({**boat.model_dump(), "lines": data}))
    assert again.outside.volume_m3 == pytest.approx(build_surface(boat).outside.volume_m3, rel=0.006)


def test_picks_beside_the_centreline_are_turned_onto_it() -> None:
    boat, mesh = scan_of()
    aft, fore, top = picks_of(boat)
    across = TURN @ np.array([0.0, 25.0, 0.0])
    beside = (tuple(np.array(aft) + across), tuple(np.array(fore) - across), top)
    result = scan_result(mesh, ScanWishes("mm", beside))
    # 50 mm aside over the 1.69 m between the keel picks: 1.7° of yaw, and roll besides
    assert result.turned_deg > 1.5
    assert result.scanned.apart_m < 0.003
    untouched = scan_result(mesh, ScanWishes("mm", beside, centre=False))
    assert untouched.scanned.apart_m > 0.05


def test_the_guess_sets_a_scan_upright_without_a_pick() -> None:
    boat, mesh = scan_of()
    result = scan_result(mesh, ScanWishes("mm", look_at(mesh).picks))
    sheer = np.array(result.scanned.averaged()[-1].points)
    true = np.array(boat.lines[-1].points)
    assert sheer[:, 1] == pytest.approx(true[:, 1], abs=0.012)
    assert sheer[:, 0] == pytest.approx(true[:, 0], abs=0.035)


@pytest.mark.parametrize(
    ("content", "name", "words"),
    [
        (b"x", "boat.step", ".stl, .obj or .ply"),
        (b"", "boat.stl", "boat.stl"),
        (b"solid nothing\nendsolid nothing\n", "boat.stl", "boat.stl"),
        (b"v 0 0 0\nv 1 0 0\nv 0 1 0\n", "boat.obj", "boat.obj"),
        (b"ply\nformat ascii 1.0\nelement vertex oops\n", "boat.ply", "boat.ply"),
        (bytes(range(256)) * 40, "boat.stl", "boat.stl"),
    ],
)
def test_files_that_are_no_mesh_are_explained(content: bytes, name: str, words: str) -> None:
    with pytest.raises(CoreError, match=words) as error:
        read_scan(content, name)
    assert error.value.place == "scan"


def damaged(change) -> bytes:
    _, mesh = scan_of()
    vertices, faces = mesh.vertices.copy(), mesh.faces.copy()
    change(vertices, faces)
    rows = [f"{a:g} {b:g} {c:g}" for a, b, c in vertices] + [f"3 {a} {b} {c}" for a, b, c in faces]
    head = (
        "ply\nformat ascii 1.0\n"
        f"element vertex {len(vertices)}\nproperty float x\nproperty float y\nproperty float z\n"
        f"element face {len(faces)}\nproperty list uchar int vertex_indices\nend_header\n"
    )
    return (head + "\n".join(rows) + "\n").encode()


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda v, f: f.__setitem__((3, 1), 999_999), "damaged|cannot be read"),
        (lambda v, f: v.__setitem__((5, 0), 1e12), "far from all else"),
        (lambda v, f: v.__setitem__(slice(None), 1.0), "without area"),
    ],
)
def test_a_damaged_mesh_is_told_apart_from_a_boat(change, words: str) -> None:
    with pytest.raises(CoreError, match=words):
        read_scan(damaged(change), "boat.ply")


def test_a_scan_with_a_hole_on_the_centreline_is_still_guessed() -> None:
    _, mesh = scan_of()
    centre = np.abs((mesh.triangles_center - SHIFT) @ TURN[:, 1]) > 150
    holed = trimesh.Trimesh(mesh.vertices, mesh.faces[centre], process=False)
    assert len(look_at(holed).picks) == 3


def test_the_wrong_unit_is_named() -> None:
    boat, mesh = scan_of()
    with pytest.raises(CoreError, match="is its unit right"):
        scan_result(mesh, ScanWishes("m", picks_of(boat)))
    with pytest.raises(CoreError, match="accepted: mm, cm"):
        scan_result(mesh, ScanWishes("ell", picks_of(boat)))
    assert guess_unit(4.5) == "m"
    assert guess_unit(180.0) == "in"
