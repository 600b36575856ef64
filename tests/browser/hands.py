"""What hands do: keys one after the other, Tab and Enter, and then a look at what was kept."""

from playwright.sync_api import Error

# the choice that a list shows; nothing where the focus is in no list
SHOWN = "document.activeElement.selectedOptions?.[0]?.label.trim().toLowerCase()"


class Hands:
    """Types on a page. ``pace`` is the time between two keys, ms."""

    def __init__(self, page, pace=60):
        self.page, self.pace = page, pace

    def type(self, text):
        """A text, key by key, where the focus is."""
        self.page.keyboard.type(text, delay=self.pace)

    def press(self, *keys):
        """Keys such as Tab, Enter, Alt+u."""
        for key in keys:
            self.page.keyboard.press(key)
            self.page.wait_for_timeout(self.pace)

    def replace(self, text):
        """Another text in place of what stands in the field."""
        self.press("Control+a")
        self.type(text)

    def choose(self, words):
        """A choice of a list, by its first letters. A list forgets the letters after a
        second: where the machine held one up so long, the word is typed again, as one does who
        looks at it."""
        for _ in range(10):
            for letter in words:
                self.page.keyboard.press(letter)
                self.page.wait_for_timeout(self.pace)
            try:
                shown = self.page.evaluate(SHOWN)
            except Error as error:  # the first letters were enough, and led to another page
                if "context was destroyed" in str(error):
                    return
                raise
            if shown is None or shown.startswith(words.lower()):
                return
            self.page.wait_for_timeout(1_100)

    def row(self, name, use="", load="", length=""):
        """A row of a board's table from its name on: Tab from cell to cell."""
        self.type(name)
        self.press("Tab")
        if use:
            self.choose(use)
        self.press("Tab")
        self.type(load)
        self.press("Tab", "Tab", "Tab")
        self.type(length)


def follow(link):
    """Goes where a link leads, and waits until that page has its scripts: what the old page and the
    new one have under the same name would else be taken hold of too soon."""
    with link.page.expect_navigation(wait_until="load"):
        link.click()


def opened(field):
    """The field, the line that it is folded under pressed where it is."""
    fold = field.locator("xpath=ancestor::details[@data-usual][1]")
    if fold.count() and fold.get_attribute("open") is None:
        fold.locator("summary").click()
    return field


def typed(field, text, pace=15):
    """Another text in a field, as hands put it there: the focus, all of it marked, key by key."""
    opened(field).focus()
    field.press("Control+a")
    if text:
        field.page.keyboard.type(text, delay=pace)
    else:
        field.press("Delete")


def focused(control):
    """Puts the focus on a control of a drawing. An answer on its way may put the drawing anew just
    then, and what was taken hold of is gone; once the focus is there, it stays."""
    for _ in range(50):
        control.focus()
        if control.evaluate("el => el === document.activeElement"):
            return
        control.page.wait_for_timeout(100)
    raise AssertionError(f"{control} never took the focus")


def settled(page):
    """Waits until the page says that all is kept."""
    page.wait_for_function(
        "() => /^kept/.test(document.getElementById('kept').textContent)", timeout=40_000
    )


def table(page):
    """What a board's table shows, row by row: name, use, load, connection, length."""
    return page.evaluate(
        """() => [...document.querySelectorAll("#circuits tbody tr:not(.new)")].map((row) =>
          ["name", "use", "load", "connection", "length"].map((column) => {
            const f = row.querySelector(`td[data-col="${column}"] input, td[data-col="${column}"] select`);
            return f ? f.value : row.querySelector(`td[data-col="${column}"]`).textContent;
          }))"""
    )


def entries(page):
    """Every entry of a sheet by its path."""
    return page.evaluate(
        """() => Object.fromEntries([...document.querySelectorAll("#entries [name]")]
          .filter((f) => f.type !== "hidden")
          .map((f) => [f.name, f.type === "checkbox" ? (f.checked ? "yes" : "") : f.value]))"""
    )
