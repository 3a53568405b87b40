"""What is pasted and dropped from elsewhere, as it comes from a real clipboard."""

from __future__ import annotations

import base64
from io import BytesIO

from PIL import Image
from playwright.sync_api import Page, expect

from .application import OWNER, READER, Journey, Line, chord, look_line, put_cursor, show_panel, table_leaf, text_of

PAGE = """<h2>Access to the pool</h2><p>Some <b>bold</b> words, and a <a href="https://example.org/x">link</a>.</p>
<ol><li>First<ul><li>Under it</li></ul></li><li>Second</li></ol>
<table><colgroup><col width="120"><col><col></colgroup><thead><tr><th>Month</th><th colspan="2">Water</th></tr></thead>
<tr><td rowspan="2">May</td><td align="right">1.2</td><td align="right">3</td></tr><tr><td>2.2</td><td>4</td></tr></table>
<p style="font-size: 18pt; color: rgb(200, 0, 0)">Large and red</p>"""
WORDS = "Access to the pool\nSome bold words, and a link."


def board(width: int = 60, height: int = 30) -> bytes:
    saved = BytesIO()
    Image.new("RGB", (width, height), "#335588").save(saved, "PNG")
    return saved.getvalue()


def copy(page: Page, **kinds: str | bytes) -> None:
    """Puts something on the clipboard, by the second half of its kind."""
    names = {"html": "text/html", "plain": "text/plain", "png": "image/png"}
    given = {
        names[kind]: base64.b64encode(data if isinstance(data, bytes) else data.encode()).decode()
        for kind, data in kinds.items()
    }
    page.evaluate(
        """async given => {
          const bytes = data => Uint8Array.from(atob(data), one => one.charCodeAt(0));
          const blobs = Object.entries(given).map(([type, data]) => [type, new Blob([bytes(data)], { type })]);
          await navigator.clipboard.write([new ClipboardItem(Object.fromEntries(blobs))]);
        }""",
        given,
    )


def drop(page: Page, y: float, *files: tuple[str, str, bytes]) -> None:
    """Drops files at a height of the window, as a drag from the desktop does."""
    given = [(name, kind, base64.b64encode(data).decode()) for name, kind, data in files]
    page.evaluate(
        """([y, given]) => {
          const transfer = new DataTransfer();
          for (const [name, type, data] of given)
            transfer.items.add(new File([Uint8Array.from(atob(data), one => one.charCodeAt(0))], name, { type }));
          const x = document.querySelector(".ProseMirror p").getBoundingClientRect().left + 40;
          for (const kind of ["dragenter", "dragover", "drop"])
            document.elementFromPoint(x, y).dispatchEvent(
              new DragEvent(kind, { dataTransfer: transfer, clientX: x, clientY: y, bubbles: true, cancelable: true }));
        }""",
        [y, given],
    )


def styles_in(page: Page) -> list[str]:
    """Each paragraph that stands in the text itself, with its style."""
    return page.evaluate(
        """() => [...document.querySelectorAll(".ProseMirror [data-style]")].filter(one => !one.closest("td"))
          .map(one => `${one.dataset.style}: ${one.textContent}`)"""
    )


class Clipboard(Journey):
    def opened(self, text: bytes = b"# Lido\n\nBefore.\n\nAfter.\n") -> Page:
        page = self.enter(OWNER)
        page.context.grant_permissions(["clipboard-read", "clipboard-write"])
        self.bring_in(page, "pasting.md", text)
        return page

    def test_a_page_comes_as_here_as_it_looked_there_or_as_words_alone(self) -> None:
        page = self.opened()
        before = ["heading-1: Lido", "body: Before.", "body: After."]
        copy(page, html=PAGE, plain=WORDS)
        put_cursor(page, "Before.")
        page.keyboard.press("Enter")
        page.keyboard.press("Control+v")
        expect(look_line(page)).to_contain_text("Pasted as here")
        here = [
            *(
                "heading-2: Access to the pool",
                "body: Some bold words, and a link.",
                "item-1: First",
                "bullet-2: Under it",
            ),
            *("item-1: Second", "body: Large and red"),
        ]
        self.assertEqual(styles_in(page), [*before[:2], *here, *before[2:]])
        cells = page.locator(".ProseMirror td")
        expect(cells).to_have_text(["Month", "Water", "May", "1.2", "3", "2.2", "4"])
        self.assertEqual(cells.nth(2).get_attribute("rowspan"), "2")
        expect(cells.nth(2)).to_have_css("width", "120px")
        expect(page.locator(".ProseMirror strong")).to_have_text("bold")
        red = page.locator(".ProseMirror p").filter(has_text="Large and red").locator("span")
        expect(red).to_have_count(0)
        self.assert_accessible(page)

        look_line(page).get_by_role("button", name="as it looked there").click()
        expect(look_line(page)).to_contain_text("Pasted as it looked there")
        expect(red).to_have_css("color", "rgb(200, 0, 0)")
        self.assertEqual(styles_in(page), [*before[:2], *here, *before[2:]])
        look_line(page).get_by_role("button", name="words alone").click()
        expect(look_line(page)).to_contain_text("Pasted words alone")
        self.assertEqual(styles_in(page), [*before[:2], *(f"body: {line}" for line in WORDS.split("\n")), before[2]])
        # One step of undo takes all of it back; the next key ends the choice.
        page.keyboard.press("Control+z")
        expect(look_line(page)).not_to_contain_text("Pasted")
        self.assertEqual(styles_in(page), [*before[:2], "body: ", before[2]])

    def test_words_are_merged_into_the_line_where_whoever_pasted_goes_on_typing(self) -> None:
        page = self.opened()
        copy(page, html="<b>in</b> between ", plain="in between ")
        put_cursor(page, "After.")
        page.keyboard.press("Home")
        page.keyboard.press("Control+v")
        expect(look_line(page)).to_contain_text("Pasted")
        page.keyboard.type("and ")
        expect(page.locator(".ProseMirror p").last).to_have_text("in between and After.")
        expect(look_line(page)).not_to_contain_text("Pasted")

    def test_without_a_connection_the_browser_reads_and_says_so(self) -> None:
        line = Line()
        page = self.opened()
        page.route_web_socket("**/ws/**", line.take)
        page.reload()
        text_of(page).wait_for()
        expect(page.get_by_text("Saved", exact=True)).to_be_visible()
        line.cut()
        expect(page.get_by_text("Saved", exact=True)).to_be_hidden()
        copy(page, html="<h2>Head</h2><p>words</p>", plain="Head\nwords")
        put_cursor(page, "After.")
        page.keyboard.press("Enter")
        page.keyboard.press("Control+v")
        expect(page.get_by_text("Without a connection what is pasted is read by this browser alone")).to_be_visible()
        self.assertEqual(styles_in(page)[-2:], ["heading-2: Head", "body: words"])
        line.mend()
        expect(page.get_by_text("Saved", exact=True)).to_be_visible()

    def test_a_picture_is_pasted_and_has_a_caption_in_one_more_press(self) -> None:
        page = self.opened()
        copy(page, png=board(5000, 1000))
        put_cursor(page, "Before.")
        page.keyboard.press("Control+v")
        expect(page.get_by_text("made smaller, to 2,400 × 480 pixels")).to_be_visible()
        expect(page.locator(".ProseMirror figure img")).to_have_js_property("naturalWidth", 2400)
        page.get_by_role("button", name="Put a caption below").click()
        page.keyboard.type("The board")
        self.assertEqual(styles_in(page)[2], "caption: The board")

    def test_pictures_are_dropped_at_a_seam(self) -> None:
        page = self.opened()
        box = page.locator(".ProseMirror p").filter(has_text="After.").bounding_box()
        drop(page, box["y"] + 2, ("a.png", "image/png", board()), ("b.png", "image/png", board(30, 60)))
        expect(page.locator(".ProseMirror figure")).to_have_count(2)
        order = page.evaluate(
            "() => [...document.querySelectorAll('.ProseMirror .band > *, .ProseMirror > *')].filter(one => one.dataset.id).map(one => one.tagName)"
        )
        self.assertEqual(order, ["P", "P", "FIGURE", "FIGURE", "P"])

    def test_a_file_that_is_let_go_beside_the_text_changes_nothing(self) -> None:
        page = self.opened()
        page.evaluate(
            """() => {
              const transfer = new DataTransfer();
              transfer.items.add(new File(["x"], "a.md", { type: "text/markdown" }));
              const event = new DragEvent("drop", { dataTransfer: transfer, bubbles: true, cancelable: true });
              document.querySelector("nav[aria-label='Spine']").dispatchEvent(event);
              window.kept = event.defaultPrevented;
            }"""
        )
        self.assertTrue(page.evaluate("window.kept"))
        expect(page.get_by_text("between two paragraphs of the text")).to_be_visible()
        self.assertEqual(len(styles_in(page)), 3)

    def test_a_chapter_is_dropped_at_a_seam_and_comes_in_under_the_heading_before(self) -> None:
        page = self.opened(b"# Lido\n\nBefore.\n\n# After\n\nWords.\n")
        box = page.locator(".ProseMirror p").filter(has_text="After").bounding_box()
        chapter = b"# Sea level\n\nSee [Weir](#weir).\n\n## Weir\n\n1. One\n"
        drop(page, box["y"] - 2, ("sea-level.md", "text/markdown", chapter))
        form = page.get_by_role("group", name="Put “sea-level.md” in")
        expect(form.get_by_role("region", name="What is in it")).to_have_text("2Sea level3Weir")
        expect(form.get_by_role("combobox", name="Level of its highest headings")).to_have_value("2")
        self.assert_accessible(page)
        form.get_by_role("combobox").select_option("1")
        expect(form.get_by_role("region")).to_have_text("1Sea level2Weir")
        form.get_by_role("button", name="Bring it in here").click()
        expect(page.get_by_text("is in the text")).to_be_visible()
        there = ["heading-1: Sea level", "body: See Weir.", "heading-2: Weir", "item-1: One"]
        self.assertEqual(
            styles_in(page), ["heading-1: Lido", "body: Before.", *there, "heading-1: After", "body: Words."]
        )
        link = page.locator(".ProseMirror a").get_attribute("href")
        expect(page.locator(link.replace("#", "#block-"))).to_have_text("Weir")
        expect(page.locator("[data-rib]")).to_have_count(4)
        page.keyboard.press("Control+z")
        self.assertEqual(styles_in(page), ["heading-1: Lido", "body: Before.", "heading-1: After", "body: Words."])

    def test_a_file_from_the_list_of_the_seam_can_be_left(self) -> None:
        page = self.opened()
        put_cursor(page, "Before.")
        chord(page, "i")
        page.get_by_role("menuitem", name="File …").click()
        page.get_by_label("File to put in").set_input_files(
            {"name": "a.txt", "mimeType": "text/plain", "buffer": b"Some words"}
        )
        expect(look_line(page)).to_contain_text("1 paragraph")
        page.get_by_role("button", name="Leave it").click()
        expect(page.get_by_role("button", name="Bring it in here")).to_have_count(0)
        self.assertEqual(len(styles_in(page)), 3)

    def copied(self, page: Page, words: str) -> tuple[str, str]:
        """The clipboard as HTML and as plain text, once there are these words in it."""
        html = plain = ""
        for _ in range(100):
            html, plain = page.evaluate(
                """async () => {
                  try {
                    const [item] = await navigator.clipboard.read();
                    return await Promise.all(["text/html", "text/plain"].map(async kind => (await item.getType(kind)).text()));
                  } catch {
                    return ["", ""];  // it is being written at this moment
                  }
                }"""
            )
            if words in html:
                break
            page.wait_for_timeout(200)
        return html, plain

    def test_a_table_and_lines_of_it_are_copied_from_the_table_leaf(self) -> None:
        page = self.opened(b"# Lido\n\nBefore.\n\n## Weir\n\n# After\n\nWords.\n")
        left = show_panel(page, "As printed")
        left.get_by_role("button", name="Contents at the front").click()
        lines = left.get_by_role("list", name="Lines of Contents").get_by_role("listitem")
        expect(lines).to_contain_text(["Lido", "Weir", "After"])
        left.locator("[data-source] a").nth(2).focus()
        page.keyboard.press("Control+c")
        html, words = self.copied(page, ">After</a>")
        self.assertRegex(html, r'<li><a href="http://[^"]*#[^"]+">After</a>\t2</li>')
        self.assertEqual(words, "After\t2")
        page.evaluate(
            """() => {
              const [first, second] = document.querySelectorAll("[data-source]");
              getSelection().setBaseAndExtent(first, 0, second, second.childNodes.length);
            }"""
        )
        page.keyboard.press("Control+c")
        _, words = self.copied(page, ">Weir</a>")
        self.assertEqual(words, "Lido\t2\n  Weir\t2")
        left.get_by_role("button", name="Copy this table").click()
        expect(page.get_by_text("The table is copied")).to_be_visible()
        html, words = self.copied(page, "<nav")
        self.assertEqual(words, "Contents\nLido\t2\n  Weir\t2\nAfter\t2")
        page.get_by_role("link", name="Your shelf").first.click()
        self.start_report(page, "Another report")
        text_of(page).click()
        page.keyboard.press("Control+v")
        expect(text_of(page).locator(".placed-lines")).to_have_count(1)

    def test_a_section_goes_to_another_report_with_its_citations_and_pictures(self) -> None:
        page = self.enter(OWNER)
        page.context.grant_permissions(["clipboard-read", "clipboard-write"])
        page.get_by_role("link", name="Quillmere Lido Restoration").click()
        text_of(page).wait_for()
        page.locator("[data-rib]").first.wait_for()
        page.locator(".ProseMirror [data-style=heading-2]").filter(has_text="Before the pool").click()
        page.keyboard.press("Home")
        page.keyboard.down("Shift")
        page.locator(".ProseMirror [data-style=heading-2]").filter(has_text="Building of the lido").click(
            position={"x": 1, "y": 8}
        )
        page.keyboard.up("Shift")
        page.keyboard.press("Control+c")
        # For other programs it is there with numbers, labels and the picture in it.
        html, words = self.copied(page, "2.1 Before")
        for part in ("<h2", "<figcaption", "Figure 1: The harbour mouth", ">Figure 1</a>", "data:image/png;base64"):
            self.assertIn(part, html)
        self.assertIn("2.1 Before the pool\nUntil 1871", words)
        page.get_by_role("link", name="Your shelf").first.click()
        self.start_report(page, "Another report")
        text_of(page).click()
        page.keyboard.press("Control+v")
        expect(page.locator(".ProseMirror figure img")).to_have_js_property("naturalWidth", 960)
        expect(page.locator(".ProseMirror .reference")).to_have_text("Figure 1")
        expect(page.locator(".citation")).to_have_text("Harbour Walls Act 1871")
        self.assertIn("heading-2: Before the pool", styles_in(page))
        show_panel(page, "Authorities")
        expect(table_leaf(page)).to_contain_text("Harbour Walls Act 1871")

    def test_what_was_left_out_is_said(self) -> None:
        page = self.opened()
        copy(page, html='<p>Gate <img src="https://example.org/gate.png" alt="shut"></p><p hidden>x</p>', plain="Gate")
        put_cursor(page, "Before.")
        page.keyboard.press("Enter")
        page.keyboard.press("Control+v")
        look_line(page).get_by_role("button", name="not as there").click()
        expect(page.get_by_role("group", name="What did not come along")).to_contain_text(
            "https://example.org/gate.png"
        )
        expect(page.locator(".ProseMirror p").filter(has_text="Gate")).to_have_text("Gate [shut]")
        # By keyboard the choice is reached as all of the look line is.
        text_of(page).focus()
        chord(page, "e")
        expect(look_line(page).get_by_role("button", name="as it looked there")).to_be_visible()

    def test_what_is_too_much_is_refused_and_nothing_is_offered_for_it(self) -> None:
        page = self.opened()
        put_cursor(page, "Before.")
        # Copied by the page itself: handing so much over to it takes long.
        page.evaluate(
            """async () => {
              const html = ("<p>" + "The keeper writes. ".repeat(200) + "</p>").repeat(600);
              const blobs = { "text/html": new Blob([html], { type: "text/html" }), "text/plain": new Blob(["much"], { type: "text/plain" }) };
              await navigator.clipboard.write([new ClipboardItem(blobs)]);
            }"""
        )
        page.keyboard.press("Control+v")
        expect(page.get_by_text("This is more than can be put in at once")).to_be_visible(timeout=60_000)
        expect(look_line(page)).not_to_contain_text("Pasted")
        page.keyboard.type(" Still.")
        self.assertEqual(styles_in(page), ["heading-1: Lido", "body: Before. Still.", "body: After."])

    def test_a_reader_pastes_nothing(self) -> None:
        page = self.enter(READER)
        page.context.grant_permissions(["clipboard-read", "clipboard-write"])
        page.get_by_role("link", name="Quillmere Lido Restoration").click()
        text_of(page).wait_for()
        copy(page, html="<p>pasted by a reader</p>", plain="pasted by a reader")
        page.locator(".ProseMirror p").first.click()
        page.keyboard.press("Control+v")
        page.wait_for_timeout(500)
        expect(page.get_by_text("pasted by a reader")).to_have_count(0)
