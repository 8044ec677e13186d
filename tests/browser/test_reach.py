"""Browser journeys of reach: nothing that has the focus is covered, and colours that the system sets tell what is chosen."""

import pytest

LOOKS = """selector => [...document.querySelectorAll(selector)].filter(one => one.checkVisibility()).map(one => {
  const style = getComputedStyle(one); return [style.backgroundColor, style.borderBottomColor, style.outlineStyle].join(' ') })"""


@pytest.fixture
def forced(browser, quince_yard):
    """A page whose colours the system sets."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, forced_colors="active")
    page = context.new_page()
    yield page
    context.close()


def one_of(page, selector, chosen):
    """How what is chosen looks, which nothing else of its kind does."""
    looks, others = page.evaluate(LOOKS, chosen), page.evaluate(LOOKS, selector)
    assert looks
    assert len(others) > len(looks)
    assert [others.count(look) for look in set(looks)] == [looks.count(look) for look in set(looks)], selector
    return looks


def test_what_is_chosen_and_where_one_is_can_be_told_in_forced_colours(forced, quince_yard):
    """One place of the navigation is underlined; chips, tabs, scores and the main button differ from the others."""
    forced.goto(quince_yard.url + "/brew-day/")
    assert len(one_of(forced, ".places a", ".places a[aria-current]")) == 1
    assert len(one_of(forced, ".within a", ".within a[aria-current]")) == 1
    one_of(forced, ".chip:has(input) span", ".chip:has(input:checked) span")
    forced.goto(quince_yard.url + "/cellar/bottles/1")
    one_of(forced, ".filter", ".filter.on")
    forced.goto(quince_yard.url + "/cellar/")
    assert len(one_of(forced, ".looks a", ".looks a[aria-current]")) == 1
    forced.goto(quince_yard.url + "/brews/7")
    one_of(forced, ".btn", ".btn-primary")
    forced.goto(quince_yard.url + "/brews/7/inspect?surface=film-yeast&smell=bad")
    one_of(forced, ".specimen-card:has(input[type=radio])", ".specimen-card:has(input[type=radio]:checked)")


COVERED = """() => {
  const one = document.activeElement;
  if (!one || one === document.body || one.closest('.places, .top')) return '';
  const box = one.getBoundingClientRect();
  if (box.width < 2 || box.height < 2 || box.height > 400) return '';
  const there = document.elementFromPoint(box.left + Math.min(box.width / 2, 40), box.top + box.height / 2);
  return there && (one.contains(there) || there.contains(one)) ? '' : `${one.tagName} ${one.innerText || one.name} under ${there && there.outerHTML.slice(0, 60)}`;
}"""  #: What lies over the element that has the focus; nothing where it is seen.


@pytest.mark.parametrize("path", ["/", "/brews/10", "/cellar/", "/brews/7/inspect?surface=film-yeast&smell=bad"])
def test_nothing_covers_what_has_the_focus_on_a_phone(page, quince_yard, path):
    """The bar at the foot, and the verdict above it, stand beside each control that a key leads to, never over it."""
    page.set_viewport_size({"width": 390, "height": 844})
    page.emulate_media(reduced_motion="reduce")
    page.goto(quince_yard.url + path)
    covered = []
    for _ in range(90):
        page.keyboard.press("Tab")
        covered.append(page.evaluate(COVERED))
    assert [one for one in covered if one] == []
