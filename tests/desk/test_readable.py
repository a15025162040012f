"""The Desk can be read: in both looks every main view passes axe, no text is small, and there is room."""

import pytest

from idle_comet.setup.home import ROOT

from .helpers import settled

AXE = ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js"
FINDINGS = """(only) => axe.run({ ...only, resultTypes: ['violations'] }).then(found => found.violations
  .filter(each => ['serious', 'critical'].includes(each.impact))
  .map(each => `${each.id}: ${each.nodes.map(node => node.html.slice(0, 90)).join(' and ')}`))"""
SMALL = """() => [...document.querySelectorAll('body *')].filter(each => each.checkVisibility() && !each.closest('svg')
  && [...each.childNodes].some(node => node.nodeType === 3 && node.textContent.trim())
  && parseFloat(getComputedStyle(each).fontSize) < 12.5).map(each => each.outerHTML.slice(0, 120))"""

# How light a colour is (WCAG 2), for what is asked of the page below.
LIGHT = """
  const paint = document.createElement('canvas').getContext('2d', { willReadFrequently: true })
  const rgba = (colour) => {
    paint.clearRect(0, 0, 1, 1)
    paint.fillStyle = colour
    paint.fillRect(0, 0, 1, 1)
    return [...paint.getImageData(0, 0, 1, 1).data]
  }
  const linear = (each) => each <= 0.04045 ? each / 12.92 : ((each + 0.055) / 1.055) ** 2.4
  const light = (colour) => [0.2126, 0.7152, 0.0722].reduce((sum, by, i) => sum + by * linear(colour[i] / 255), 0)
  const ratio = (one, other) => (Math.max(one, other) + 0.05) / (Math.min(one, other) + 0.05)
"""

# Lines and grounds that only part or carry are no marks; everything else that is drawn means something.
FAINT = (
    "() => {"
    + LIGHT
    + """
  const root = getComputedStyle(document.documentElement)
  const decorative = ['line', 'row', 'lane', 'panel', 'raised', 'soot', 'chosen', 'plate', 'plate-on', 'surround']
    .map((name) => `--${name}`)
  const known = new Set(decorative.map((name) => rgba(root.getPropertyValue(name)).join()))
  const ground = (node) => {
    for (let each = node; each; each = each.parentElement) {
      const found = rgba(getComputedStyle(each).backgroundColor)
      if (found[3] > 250) return found
    }
    return rgba(root.getPropertyValue('--soot'))
  }
  const faint = []
  for (const node of document.querySelectorAll('.desk svg :not(g, title), .desk .choice, .desk .flip, .desk .state')) {
    // What lies on pictures has a ground of its own; what is off or unseen says so by being faint.
    const apart = '.preview, .strip, .framing, .join, [disabled], .off, .unseen, mask, defs'
    if (!node.checkVisibility() || node.closest(apart)) continue
    const style = getComputedStyle(node)
    if (+style.opacity < 0.99 || [...ancestors(node)].some((each) => +getComputedStyle(each).opacity < 0.99)) continue
    const drawn = node instanceof SVGElement ? [style.stroke, style.fill] : [style.borderTopColor]
    const seen = drawn.filter((each) => each !== 'none' && each !== 'rgb(0, 0, 0)').map(rgba)
      .filter((each) => each[3] > 250 && !known.has(each.join()))
    if (!seen.length) continue
    const under = light(ground(node.parentElement))
    const most = Math.max(...seen.map((each) => ratio(light(each), under)))
    if (most < 3) faint.push(`${most.toFixed(2)} ${node.outerHTML.slice(0, 90)}`)
  }
  function* ancestors(node) { for (let each = node.parentElement; each; each = each.parentElement) yield each }
  return [...new Set(faint)]
}"""
)

# Words of what the pointer is over, against what lies under them; 99 for what has none.
POINTED = (
    "(node) => {"
    + LIGHT
    + """
  const under = (each) => {
    const found = rgba(getComputedStyle(each).backgroundColor)
    return found[3] > 250 || !each.parentElement ? light(found) : under(each.parentElement)
  }
  const words = [node, ...node.querySelectorAll('*')]
    .filter((each) => [...each.childNodes].some((one) => one.nodeType === 3 && one.textContent.trim()))
  return Math.min(99, ...words.map((each) => ratio(light(rgba(getComputedStyle(each).color)), under(each))))
}"""
)
CHOSEN = ".on:visible, [aria-pressed=true]:visible, [aria-checked=true]:visible"


def button(name):
    return lambda page: page.get_by_role("button", name=name, exact=True).click()


def row(number):
    return lambda page: page.locator(".steps .names").nth(number).click()


def key(name):
    return lambda page: page.keyboard.press(name)


VIEWS = {
    "a title in hand": lambda page: None,
    "the clip": row(0),
    "the words": row(2),
    "a step": row(3),
    "text": button("Text"),
    "media": button("Media"),
    "recipes": button("Recipes"),
    "export": button("Export"),
    "commands": key("/"),
    "films": button("Films"),
    "shortcuts": button("Shortcuts"),
    "the frame": lambda page: page.locator("[data-test=frame]").click(),
}


@pytest.mark.parametrize("look, only", [("soot", {}), ("bone", {"runOnly": ["color-contrast"]})])
def test_every_main_view_is_readable(page, running, look, only):
    """The looks differ in their colours alone."""
    page.goto(running.address)
    page.evaluate(f"() => localStorage.setItem('look', '{look}')")
    page.goto(f"{running.address}/?project=slow-harvest")
    settled(page)
    page.evaluate(AXE.read_text())
    for name, act in VIEWS.items():
        act(page)
        page.wait_for_timeout(500)
        assert page.evaluate(FINDINGS, only) == [], name
        assert page.evaluate(SMALL) == [], name
        assert page.evaluate(FAINT) == [], name
        for chosen in page.locator(CHOSEN).all()[:12]:
            said = chosen.get_attribute("aria-label") or chosen.inner_text().strip()
            assert said, chosen.evaluate("node => node.outerHTML")
            chosen.hover(force=True)
            assert chosen.evaluate(POINTED) >= 4.5, (name, said)
        if page.locator("[role=dialog]").count():
            page.keyboard.press("Escape")
            page.locator("[role=dialog]").wait_for(state="detached")


def steps_of(page):
    return page.get_by_label("Steps", exact=True).bounding_box()


@pytest.mark.parametrize("width, height", [(1280, 800), (1920, 1080), (2560, 1440)])
def test_there_is_room_at_every_size(chromium, running, width, height):
    page = chromium.new_page(viewport={"width": width, "height": height})
    page.goto(f"{running.address}/?project=slow-harvest")
    settled(page)
    steps = steps_of(page)
    assert steps["y"] + steps["height"] == pytest.approx(height, abs=2)  # the Steps run the full height
    assert page.locator(".gauge .printed").first.bounding_box()["width"] >= 160
    assert page.locator("canvas").bounding_box()["width"] >= 700
    page.get_by_role("button", name="Recipes", exact=True).click()
    page.wait_for_timeout(400)
    assert page.locator("canvas").bounding_box()["width"] >= 700
    # Values stay usable beside a tray.
    page.locator(".steps .names").nth(3).click()
    panel, gauge = steps_of(page), page.locator(".gauge .printed").first.bounding_box()
    keyed = page.locator(".keyed").first.bounding_box()
    assert gauge["width"] >= 160 and keyed["x"] + keyed["width"] <= panel["x"] + panel["width"]
    page.close()


def test_dialogs_hold_the_keyboard_and_give_it_back(desk):
    opener = desk.get_by_role("button", name="Films", exact=True)
    opener.focus()
    desk.keyboard.press("Enter")
    sheet = desk.get_by_role("dialog", name="Films")
    sheet.wait_for()
    for _ in range(30):
        desk.keyboard.press("Tab")
        assert sheet.evaluate("sheet => sheet.contains(document.activeElement)")
    desk.keyboard.press("Escape")
    sheet.wait_for(state="detached")
    assert opener.evaluate("opener => opener === document.activeElement")


def test_names_stand_over_curves_and_the_playhead(desk):
    """Nothing runs through words: a name has a band above its clip's curve, and the playhead passes below it."""
    clip = desk.locator("[data-clip=title]")
    name = clip.locator(".says").bounding_box()
    curve = clip.locator("path.top").evaluate(
        "path => path.getBBox().y + path.ownerSVGElement.getBoundingClientRect().y"
    )
    assert name["y"] + name["height"] <= curve
    x, y = name["x"] + name["width"] / 2, name["y"] + name["height"] / 2
    top = desk.evaluate(
        "([x, y]) => { for (const each of document.querySelectorAll('.says, .playhead')) "
        "each.style.pointerEvents = 'auto'; return document.elementFromPoint(x, y).className; }",
        [x, y],
    )
    assert "says" in top
