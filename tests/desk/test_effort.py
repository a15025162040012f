"""Eight jobs done by hand in an empty film, without a recipe: how many acts they take is in docs/effort.md."""

import os
import re

import pytest

from idle_comet.setup.home import ROOT
from tests.conftest import until

from .helpers import Counted, clips, drag, pick

EFFORT = ROOT / "docs" / "effort.md"


class Acts(Counted):
    """Acts with their names, in order. A key held with a click is the same act."""

    def __init__(self, page, running):
        super().__init__(page)
        self.running, self.did = running, []

    def press(self, keys):
        super().press(keys)
        self.did.append(f"press {keys}")

    def type(self, words):
        super().type(words)
        self.did.append(f"type “{words}”")

    def on(self, name, locator, **how):
        """Click what is called so."""
        self.did.append(f"click {name}" + "".join(f" with {key}" for key in how.get("modifiers", ())))
        self.click(self.page.locator(locator) if isinstance(locator, str) else locator, **how)

    def button(self, name, within=None):
        self.on(name, (within or self.page).get_by_role("button", name=name, exact=True))

    def steps(self, *names):
        """Add a step for each name; with Shift the list stays for the next."""
        held = sum(len(each["steps"]) for each in clips(self.running).values())
        self.on("add a step", "[data-test=add-step]")
        for number, name in enumerate(names, 1):
            self.type(name)
            self.press("Enter" if number == len(names) else "Shift+Enter")
        until(lambda: sum(len(each["steps"]) for each in clips(self.running).values()) >= held + len(names))

    def words(self, typed, keys="t"):
        """A title, or with Shift+T a line below."""
        self.press(keys)
        self.type(typed)
        until(lambda: self.named_text(typed))
        self.press("Escape")

    def named_text(self, typed):
        texts = (each["content"].get("text") for each in clips(self.running).values())
        return any(text == typed for text in texts)

    def tray(self, name, part):
        self.button(name)
        self.on(part, f"[data-test=media-{part}]")

    def put(self, media):
        before = set(clips(self.running))
        item = self.page.locator(f"[data-media={media}]")
        self.on(f"{media}: insert", item.get_by_role("button", name="insert", exact=True))
        return self.made_since(before)

    def made_since(self, before):
        """The clip that was just made, as soon as the Desk has it in hand."""
        id = until(lambda: next(each for each in clips(self.running) if each not in before))
        name = clips(self.running)[id]["name"]
        self.page.locator("[aria-label=Steps] header").get_by_text(name).wait_for()
        return id

    def clip(self, id, *keys):
        name = clips(self.running)[id]["name"]
        self.on(f"the clip {name}", f"[data-clip={id}]", position={"x": 40, "y": 12}, modifiers=list(keys))

    def draw(self, form, x, y, dx, dy):
        """A shape, by a drag over shares of the picture."""
        before = set(clips(self.running))
        self.on(form, f"[data-shape={form}]")
        box = self.page.locator("[data-test=shaping]").bounding_box()
        self.did.append(f"drag the {form} on the picture")
        self.actions += 1
        drag(
            self.page, box["x"] + box["width"] * x, box["y"] + box["height"] * y, box["width"] * dx, box["height"] * dy
        )
        return self.made_since(before)

    def value(self, row, name, typed):
        """A value of a row that is not open yet."""
        steps = self.page.locator("[aria-label=Steps]")
        self.on(row, steps.get_by_role("button", name=re.compile(f"^{row}")))
        self.number(name, typed)

    def number(self, name, typed):
        gauge = self.page.locator(".gauge").filter(has=self.page.get_by_role("slider", name=name, exact=True))
        self.on(f"the number of {name}", gauge.locator("button.value"))
        self.type(typed)
        self.press("Enter")


@pytest.fixture
def acts(editor, empty):
    yield Acts(editor.page, empty)


def written(job, acts, most):
    """At most so many acts, and those of the page in docs."""
    assert acts.actions == len(acts.did) <= most, acts.did
    made = f"## {job}: {len(acts.did)} acts\n\n" + "".join(f"{n}. {each}\n" for n, each in enumerate(acts.did, 1))
    text = EFFORT.read_text()
    known = re.search(rf"## {re.escape(job)}: .*?(?=\n## |\Z)", text, re.S)
    if os.environ.get("COMET_WRITE"):
        EFFORT.write_text(text.replace(known[0], made) if known else f"{text.rstrip()}\n\n{made}")
    else:
        assert known and known[0].strip() == made.strip()


def kinds(running):
    return {step["kind"] for each in clips(running).values() for step in each["steps"]}


def lit(picture):
    return float((picture.max(-1) > 40).mean())


def test_a_title_of_two_lines_comes_into_focus(acts, frame):
    acts.words("THE SLOW HARVEST")
    acts.words("Episode two: The swarm", "Shift+T")
    acts.press("Control+a")
    acts.steps("rise and fade", "focus in")
    acts.press("1")
    until(lambda: len(clips(acts.running)) == 2 and kinds(acts.running) == {"placement", "focus_blur"})
    assert lit(frame(0)) < lit(frame(60))
    written("Two-line title with focus", acts, 14)


def test_a_weathered_card(acts, frame):
    acts.words("The Slow Harvest")
    acts.steps("weathered")
    acts.press("u")
    until(lambda: acts.page.locator(".clip.chosen").get_by_text("Treatment").count() == 1)
    acts.steps("vignette", "grain", "handheld")
    acts.tray("Media", "made")
    acts.on("paper", "[data-pattern=paper]")
    paper = until(lambda: next((c for c in clips(acts.running).values() if c["content"]["kind"] == "generated"), None))
    assert (paper["head"], paper["blend"]) == (0, "multiply")
    assert {"displace", "vignette", "grain", "handheld"} <= kinds(acts.running)
    written("Weathered card", acts, 20)


LINES = (
    "Mara Quill\tBeekeeper\nOno Brightwater\tMaker of hives\nÁgota Ýrsson\tFlorist\n"
    "Tam Reed\tDriver\nIda Moss\tTeacher\nLeo Fenn\tBaker"
)


def test_six_straps(acts, frame):
    page = acts.page
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.evaluate("words => navigator.clipboard.writeText(words)", LINES)
    acts.press("Control+v")
    until(lambda: page.locator(".clip").count() == 12)
    acts.press("Control+a")
    acts.steps("edge reveal in", "backing grows")
    row = page.locator("[data-test=clip-row]")
    acts.on("align left", row.get_by_role("button", name="left", exact=True), modifiers=["Shift"])
    acts.value("Placement", "Position Y", "+220")
    names = sorted(clips(acts.running).values(), key=lambda each: each["head"])
    assert [each["name"] for each in names[:2]] == ["Mara Quill", "Beekeeper"]
    # The name and, below it, what the name does, at the lower left.
    until(lambda: lit(frame(50)[240:, :320]) > 0.02)
    strap = frame(50)
    assert lit(strap[:230]) == 0 and lit(strap[240:, 400:]) == 0
    written("Six straps", acts, 20)


def test_a_night_card(acts, frame):
    acts.words("THE SWARM")
    acts.steps("gold", "glow in and", "past the camera")
    acts.press("u")
    until(lambda: acts.page.locator(".clip.chosen").get_by_text("Treatment").count() == 1)
    acts.steps("colour", "grain", "vignette", "gate weave", "leak once", "letterbox")
    acts.tray("Media", "made")
    acts.on("smoke", "[data-pattern=smoke]")
    acts.on("particles", "[data-pattern=particles]")
    until(lambda: len(clips(acts.running)) == 4)
    wanted = {
        "solid",
        "glow",
        "past_camera",
        "colour_grade",
        "grain",
        "vignette",
        "gate_weave",
        "light_leak",
        "letterbox",
    }
    assert wanted <= kinds(acts.running)
    assert frame(60)[:40].max() < 20, "the bars of the letterbox"
    written("Night card", acts, 30)


def test_a_picture_in_a_picture_with_its_strip_and_four_in_turn(acts, frame):
    page = acts.page
    acts.button("Media")
    acts.put("heath-evening")
    acts.on("with words in a strip below", "[data-test=strip-below]")
    page.locator("[data-test=type-here]").wait_for(state="attached")
    acts.type("marrow-lane.example")
    until(lambda: acts.named_text("marrow-lane.example"))
    acts.press("Escape")
    acts.press("Home")
    acts.put("ottoline-bench")
    acts.on("in a corner", "[data-arrangement='in a corner']")
    acts.press("End")
    acts.press("ArrowRight")
    four = [acts.put(each) for each in ("hands-jars", "walk-home", "heath-evening", "ottoline-bench")]
    for number, id in enumerate(four[:3], 2):
        acts.clip(id, "Control")
        until(lambda number=number: page.locator(".clip.chosen").count() == number)
    acts.on("in a grid", "[data-arrangement='in a grid']")
    until(lambda: all("cell" in {step["kind"] for step in clips(acts.running)[id]["steps"]} for id in four))
    acts.press("Shift+ArrowRight")
    acts.on("come forward in turn", "[data-test=comes-forward]")
    until(lambda: sum(id.endswith("-a-1") for id in clips(acts.running)) >= 3)
    written("Picture in picture with its strip, and four in turn", acts, 25)


def test_an_emblem_of_two_pieces(acts, frame):
    acts.button("Media")
    hexagon, stroke = acts.put("emblem-hexagon"), acts.put("emblem-stroke")
    acts.steps("slide in from the right", "glow in and")
    acts.press("Shift+ArrowRight")
    acts.press("Shift+ArrowRight")
    acts.value("Placement moving", "Position X", "-1100")
    acts.clip(hexagon, "Control")
    acts.on("uncovers it: under it", "[data-test=uncover-middle]")
    acts.on("answers as it is gone", "[data-test=moment-gone]")
    acts.on("by its glow", "[data-test=answer-glow]")
    acts.clip(stroke)
    acts.press("ArrowRight")
    acts.on("leaves here, and returns falling", "[data-test=return-drop-settle]")
    until(lambda: len(clips(acts.running)) == 3)
    assert {"mask", "glow"} <= {step["kind"] for step in clips(acts.running)[hexagon]["steps"]}
    assert lit(frame(0)) < 0.01 < lit(frame(100))
    written("Two-piece emblem", acts, 40)


def test_an_end_card(acts, frame):
    acts.tray("Media", "made")
    acts.on("gradient", "[data-pattern=gradient]")
    acts.on("files", "[data-test=media-files]")
    acts.put("emblem-hexagon")
    acts.value("Placement", "Scale", "30")
    acts.number("Position X", "-280")
    acts.steps("slide in from the left")
    acts.on("shapes", "[data-test=media-shapes]")
    panel = acts.draw("rectangle", 0.56, 0.38, 0.34, 0.24)
    acts.steps("slide in from the right")
    back = acts.draw("rectangle", 0.56, 0.38, 0.34, 0.24)
    acts.clip(panel)
    acts.clip(back, "Control")
    acts.press("Shift+ArrowRight")
    acts.press("Shift+ArrowRight")
    acts.on("turns into it about an upright axis", "[data-test=turn-into]")
    until(lambda: any(each["content"]["kind"] == "group" for each in clips(acts.running).values()))
    acts.on("files", "[data-test=media-files]")
    acts.put("click")
    acts.put("chime")
    acts.press("Home")
    acts.put("whoosh-deep")
    acts.press("/")
    acts.type("speed 50")
    acts.press("Enter")
    acts.put("bed")
    acts.words("The Slow Harvest")
    acts.value("Placement", "Position Y", "240")
    until(lambda: "turn_over" in kinds(acts.running))
    assert lit(frame(60)) > 0.2
    written("End card", acts, 50)


def test_a_poster_in_depth(acts, frame):
    acts.button("Media")
    acts.put("heath-wide")
    acts.put("ottoline-portrait")
    acts.steps("black and white", "tone colours", "shadow", "stand in space")
    acts.on("shapes", "[data-test=media-shapes]")
    acts.draw("star", 0.2, 0.2, 0.2, 0.3)
    acts.steps("outline", "stand in space")
    acts.words("The Slow Harvest")
    acts.steps("stand in space")
    acts.press("/")
    acts.type("add a camera")
    acts.press("Enter")
    until(lambda: any(each["content"]["kind"] == "camera" for each in clips(acts.running).values()))
    acts.on("camera: push in", "[data-camera='push in']")
    acts.press("End")
    acts.press("ArrowRight")
    acts.on("files", "[data-test=media-files]")
    second = acts.put("jars-window")
    acts.on("Clip", "[data-test=clip-row] .names")
    acts.did += ["click the kind of transition at its head", "click iris, an ellipse"]
    pick(acts, acts.page.locator("[data-test=opening-kind]"), "iris, an ellipse")
    acts.press("u")
    until(lambda: acts.page.locator(".clip.chosen").get_by_text("Treatment").count() == 1)
    acts.steps("leak once")
    assert clips(acts.running)[second]["opening"]["kind"] == "ellipse"
    assert {"outline", "shadow", "stand", "tone_colours", "light_leak"} <= kinds(acts.running)
    written("Poster in depth", acts, 45)
