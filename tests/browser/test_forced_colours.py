"""Browser journeys in colours that the reader's system sets: what is chosen, where one is, and what is the main thing to do can be told."""

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
