"""Films with transparency: painted over nothing, written, and read again as the same pixels."""

import base64
import zipfile

import cv2
import numpy as np
import pytest

from idle_comet.core.compose import Painter
from idle_comet.core.edits import AddStep, AddTitle, EditError, apply
from idle_comet.core.edits.alone import only
from idle_comet.core.motion import Fixed
from idle_comet.core.project.model import Clip, Plain, Project, Settings, Step, Track
from idle_comet.media.decode import ShotReader
from idle_comet.media.film import Order, paint_clear, render_film
from idle_comet.media.importing import import_file
from idle_comet.media.transparent import straight

WIDTH, HEIGHT = 322, 182
FORMATS = ["prores4444", "animation", "vp9"]


def film():
    """A word in honey at three quarters, softly lit, over a card that is not to be in the film."""
    project = Project(settings=Settings(name="clear", width=WIDTH, height=HEIGHT))
    project, _ = apply(project, AddTitle(clip="t", frame=0, text="BEES"))
    clip = project.clips["t"]
    content = clip.content.model_copy(update={"size": Fixed(value=90), "colour": Fixed(value="#f0b440")})
    place = Step(id="place", kind="placement", values={"opacity": Fixed(value=0.75)})
    project = project.model_copy(
        update={"clips": {"t": clip.model_copy(update={"content": content, "steps": (place,)})}}
    )
    project, _ = apply(
        project, AddStep(clip="t", at=0, step=Step(id="g", kind="glow", values={"size": Fixed(value=20)}))
    )
    card = Clip(id="card", track="low", name="card", head=0, length=100, content=Plain(colour="#204060"))
    return project.model_copy(
        update={"tracks": (*project.tracks, Track(id="low", name="low")), "clips": {**project.clips, "card": card}}
    )


def over(rgba, ground):
    return rgba[..., :3].astype(float) + (255.0 - rgba[..., 3:]) / 255 * ground


@pytest.mark.parametrize("kind", ["straight", "premultiplied"])
@pytest.mark.parametrize("form", FORMATS)
def test_it_comes_back_with_the_same_pixels(tmp_path, form, kind):
    project, clip = only(film(), "t")
    order = Order(10, 4, WIDTH, HEIGHT, format=form, alpha=kind)
    out = tmp_path / f"film{order.suffix}"
    render_film(project, None, out, order)
    folder = tmp_path / "media"
    folder.mkdir()
    media = import_file(out, out.name, folder)
    assert media.alpha and (media.width, media.height, media.frames) == (WIDTH, HEIGHT, 4)
    reader = ShotReader(folder / media.path)
    read = reader.picture(2, exact=True)
    reader.close()
    painted = paint_clear(Painter(None), project, 12, order)
    assert painted[..., 3].max() > 180 and (painted[..., 3] == 0).mean() > 0.05
    off = np.abs(read[..., 3].astype(int) - painted[..., 3])
    assert off.max() <= (6 if form == "vp9" else 1)
    for ground in (0, 255):
        apart = np.abs(over(read, ground) - over(painted, ground))
        # 4:2:0 blurs colours; all else is right to a few values.
        assert apart.mean() < 1.0 and np.percentile(apart, 99.5) <= (24 if form == "vp9" else 4)


@pytest.mark.parametrize("kind", ["straight", "premultiplied"])
def test_pictures_are_numbered_by_the_films_frames_and_exact(tmp_path, kind):
    project, _ = only(film(), "t")
    order = Order(10, 3, WIDTH, HEIGHT, format="png", alpha=kind)
    render_film(project, None, tmp_path / "film.zip", order)
    with zipfile.ZipFile(tmp_path / "film.zip") as packed:
        assert packed.namelist() == ["000010.png", "000011.png", "000012.png"]
        data = np.frombuffer(packed.read("000011.png"), np.uint8)
    read = cv2.imdecode(data, cv2.IMREAD_UNCHANGED)[..., [2, 1, 0, 3]]
    painted = paint_clear(Painter(None), project, 11, order)
    assert (read[..., 3] == painted[..., 3]).all()
    if kind == "straight":
        read = np.concatenate([np.rint(read[..., :3] * (read[..., 3:] / 255)), read[..., 3:]], 2)
    assert np.abs(read.astype(int) - painted).max() <= 1


def test_over_a_plain_colour_it_is_opaque_and_of_that_colour():
    project, _ = only(film(), "t")
    order = Order(10, 1, WIDTH, HEIGHT, format="prores4444", ground="#00b140")
    picture = paint_clear(Painter(None), project, 10, order)
    assert (picture[..., 3] == 255).all() and (picture[2, 2, :3] == (0, 0xB1, 0x40)).all()


def test_straight_colours_go_on_where_nothing_is_seen():
    rgba = np.zeros((20, 20, 4), np.uint8)
    rgba[5:15, 5:15] = (60, 30, 0, 128)
    made = straight(rgba)
    assert (made[..., 3] == rgba[..., 3]).all()
    assert (made[10, 10, :3] == (120, 60, 0)).all() and (made[4, 10, :3] == (120, 60, 0)).all()


def test_what_has_no_picture_is_refused():
    with pytest.raises(EditError, match="no clip"):
        only(film(), "gone")


def test_webm_plays_in_a_browser_over_the_pages_colour(chromium, tmp_path):
    project, _ = only(film(), "t")
    order = Order(10, 10, WIDTH, HEIGHT, format="vp9")
    render_film(project, None, tmp_path / "film.webm", order)
    data = base64.b64encode((tmp_path / "film.webm").read_bytes()).decode()
    page = chromium.new_page(viewport={"width": WIDTH, "height": HEIGHT})
    page.set_content(
        f"<body style='margin:0;background:#10c0f0'><video muted src='data:video/webm;base64,{data}'></video>"
    )
    page.evaluate("""() => new Promise((done) => {
        const film = document.querySelector('video')
        film.onseeked = () => requestAnimationFrame(() => requestAnimationFrame(done))
        film.currentTime = 0.1 })""")
    shot = cv2.imdecode(np.frombuffer(page.screenshot(), np.uint8), cv2.IMREAD_COLOR)[..., ::-1].astype(float)
    page.close()
    painted = paint_clear(Painter(None), project, 12, order)
    wanted = over(painted, np.array([0x10, 0xC0, 0xF0]))
    clear = painted[..., 3] == 0
    assert np.abs(shot - wanted)[clear].max() <= 6 and np.abs(shot - wanted).mean() < 3
