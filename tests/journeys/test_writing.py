"""Writing and formatting in the text leaf, with the mouse and with the keyboard alone."""

from __future__ import annotations

from io import BytesIO

from PIL import Image
from playwright.sync_api import Page, expect

from .application import OWNER, Journey, chord, look_line, put_cursor, rib, text_of, whole_look


class Writing(Journey):
    def ids(self, page: Page) -> list[str]:
        return page.locator(".band > p").evaluate_all("all => all.map(p => p.dataset.id)")

    def texts(self, page: Page) -> list[str]:
        return page.locator(".band > p").all_inner_texts()

    def select(self, page: Page, words: str) -> None:
        """Selects a whole paragraph with the keyboard."""
        put_cursor(page, words, end=False)
        page.keyboard.press("Shift+End")
        look_line(page).wait_for()

    def saved(self, page: Page) -> None:
        expect(page.locator("[data-saved='true']")).to_be_attached()

    def test_formatting_is_kept_and_is_there_after_loading_again(self) -> None:
        page = self.enter(OWNER)
        self.bring_in(page, "plain.txt", b"First words\n\nSecond words\n\nThird words", "text/plain")
        self.select(page, "First words")
        page.keyboard.press("Control+b")
        line = whole_look(page)
        line.get_by_role("button", name="Slant: upright").click()
        line.get_by_role("spinbutton", name="Size").fill("24")
        page.keyboard.press("Enter")
        line.get_by_role("combobox", name="Typeface").select_option("Liberation Mono")
        line.get_by_role("combobox", name="Colour", exact=True).select_option("#a63b27")
        line.get_by_role("combobox", name="Alignment").select_option("center")
        line.get_by_role("spinbutton", name="Space below").fill("24")
        page.keyboard.press("Enter")
        self.saved(page)
        page.reload()
        first = page.locator(".ProseMirror p").first
        expect(first).to_have_css("text-align", "center")
        expect(first).to_have_css("margin-bottom", "32px")  # 24 points
        words = first.locator("[data-typeface]")
        expect(words).to_have_css("font-size", "32px")
        expect(words).to_have_css("color", "rgb(166, 59, 39)")
        expect(first.locator("strong")).to_have_text("First words")
        expect(first.locator("em")).to_have_text("First words")

    def test_a_press_counts_though_a_change_arrives_before_the_browser_tells_of_it(self) -> None:
        page = self.enter(OWNER)
        self.bring_in(page, "press.txt", b"First words\n\nSecond words\n\nThird words", "text/plain")
        put_cursor(page, "First words")
        # As a co-author's change would: in a task of its own, after the press and ahead of the next frame.
        page.evaluate(
            """() => {
                const { editor } = document.querySelector(".ProseMirror");
                const channel = new MessageChannel();
                channel.port1.onmessage = () => {
                    const end = editor.state.doc.content.size - 1;
                    editor.view.dispatch(editor.state.tr.insertText(" came", end).setMeta("addToHistory", false));
                };
                window.addEventListener("mousedown", () => channel.port2.postMessage(null), { once: true });
            }"""
        )
        text_of(page).get_by_text("Second words").click()
        expect(text_of(page)).to_contain_text("Third words came")
        page.keyboard.press("End")
        page.keyboard.type(" typed")
        self.assertEqual(self.texts(page), ["First words", "Second words typed", "Third words came"])

    def test_a_word_of_a_heading_can_be_made_light(self) -> None:
        page = self.enter(OWNER)
        self.bring_in(page, "light.md", b"# Heavy words")
        self.select(page, "Heavy words")
        bold = whole_look(page).get_by_role("button", name="Weight")
        expect(bold).to_have_attribute("aria-pressed", "true")
        page.keyboard.press("Control+b")
        expect(bold).to_have_attribute("aria-pressed", "false")
        expect(page.locator(".ProseMirror strong")).to_have_css("font-weight", "400")
        bold.click()
        expect(bold).to_have_attribute("aria-pressed", "true")
        expect(page.locator(".ProseMirror strong")).to_have_count(0)

    def test_links_lead_to_web_addresses_only(self) -> None:
        page = self.enter(OWNER)
        self.bring_in(page, "links.txt", b"Good link\n\nBad link", "text/plain")
        for words, address in (("Good link", "example.org/tide"), ("Bad link", "javascript:alert(1)")):
            self.select(page, words)
            chord(page, "l")
            page.get_by_label("Search places of the report, or write a web address").fill(address)
            page.keyboard.press("Enter")
            if words == "Bad link":
                expect(page.get_by_text("No place of the report reads so.")).to_be_visible()
                page.keyboard.press("Escape")
            expect(text_of(page)).to_be_focused()
            page.keyboard.press("Control+End")
        links = page.locator(".ProseMirror a")
        expect(links).to_have_count(1)
        expect(links).to_have_attribute("href", "https://example.org/tide")

    def test_ctrl_enter_breaks_the_page_and_the_spine_follows(self) -> None:
        page = self.enter(OWNER)
        self.bring_in(page, "break.md", b"# One\n\nText.\n\n# Two\n\nMore.")
        expect(rib(page, "Two")).to_contain_text("1")
        put_cursor(page, "Text.")
        page.keyboard.press("Control+Enter")
        expect(page.get_by_role("group", name="Page break")).to_be_visible()
        expect(rib(page, "Two")).to_contain_text("2")
        expect(page.locator(".page-edge")).to_have_attribute("data-label", "page 2")

    def test_what_is_cut_and_pasted_keeps_its_id_and_a_copy_gets_its_own(self) -> None:
        page = self.enter(OWNER)
        page.context.grant_permissions(["clipboard-read", "clipboard-write"])
        self.bring_in(page, "move.md", b"# Alpha\n\nText one.\n\n# Beta\n\nText two.")
        alpha, _, beta, _ = self.ids(page)
        put_cursor(page, "Beta", end=False)
        for key in ("Shift+ArrowDown", "Shift+End", "Control+x", "Control+Home", "Enter", "ArrowUp", "Control+v"):
            page.keyboard.press(key)
        expect(page.locator("[data-rib]").first).to_contain_text("Beta")
        self.assertEqual(self.ids(page)[0], beta)
        page.locator(".ProseMirror p").filter(has_text="Text one.").click(click_count=3)
        page.keyboard.press("Control+c")
        put_cursor(page, "Text two.")
        page.keyboard.press("Enter")
        page.keyboard.press("Control+v")
        expect(page.locator(".ProseMirror p").filter(has_text="Text one.")).to_have_count(2)
        ids = self.ids(page)
        self.assertEqual(len(set(ids)), len(ids))
        self.assertIn(alpha, ids)

    def test_a_blank_sheet_has_the_cursor_in_the_very_frame_in_which_it_appears(self) -> None:
        page = self.enter(OWNER)
        self.start_report(page, "At once")
        page.add_init_script(
            """
            const look = () => {
              const sheet = document.querySelector(".ProseMirror");
              if (sheet?.offsetHeight) window.atOnce = sheet.contains(document.activeElement);
              else requestAnimationFrame(look);
            };
            requestAnimationFrame(look);
            """
        )
        page.reload()
        page.wait_for_function("() => window.atOnce !== undefined")
        self.assertTrue(page.evaluate("window.atOnce"))
        page.keyboard.type("First words")
        expect(page.locator(".ProseMirror p").first).to_have_text("First words")

    def test_pictures_and_data_tables_go_in_at_the_handle(self) -> None:
        page = self.enter(OWNER)
        self.bring_in(page, "in.md", b"# Head\n\nHere.\n\nThere.")
        stream = BytesIO()
        Image.new("RGB", (200, 100), "teal").save(stream, "PNG")
        put_cursor(page, "Here.")
        chord(page, "i")
        with page.expect_file_chooser() as chooser:
            page.get_by_role("menuitem", name="Picture …").click()
        chooser.value.set_files({"name": "p.png", "mimeType": "image/png", "buffer": stream.getvalue()})
        picture = page.locator(".ProseMirror figure img")
        expect(picture).to_be_visible()
        self.assertTrue(picture.evaluate("image => image.decode().then(() => image.naturalWidth === 200)"))
        put_cursor(page, "There.")
        chord(page, "i")
        page.get_by_role("menuitem", name="Data table", exact=True).click()
        expect(text_of(page)).to_be_focused()
        page.keyboard.type("Gate")
        page.keyboard.press("Tab")
        page.keyboard.type("Width")
        page.get_by_role("button", name="Row below").click()
        expect(page.locator(".ProseMirror tr")).to_have_count(4)
        expect(page.locator(".ProseMirror td").nth(1)).to_have_text("Width")
        self.saved(page)
        page.reload()
        expect(page.locator(".ProseMirror td").first).to_have_text("Gate")

    def test_the_whole_way_with_the_keyboard_alone(self) -> None:
        page = self.enter(OWNER)
        self.start_report(page, "Keys only")
        chord(page, "w")
        page.keyboard.press("Control+Home")
        page.keyboard.type("Opening")
        page.keyboard.press("Enter")
        page.keyboard.type("Some words about it.")
        page.keyboard.press("Enter")
        page.keyboard.type("Closing")
        chord(page, "2")
        chord(page, "i")
        page.keyboard.press("Enter")
        expect(page.get_by_role("menuitem", name="Contents table here")).to_be_focused()
        page.keyboard.press("Enter")
        leaf = page.get_by_role("region", name="Table leaf")
        expect(leaf.get_by_role("link", name="Closing")).to_be_visible()
        chord(page, "f")
        page.keyboard.type("clos")
        page.keyboard.press("ArrowDown")
        expect(page.locator("[data-rib]:focus")).to_contain_text("Closing")
        page.keyboard.press("Enter")
        expect(text_of(page)).to_be_focused()
        page.keyboard.press("End")
        page.keyboard.type(" words")
        expect(rib(page, "Closing words")).to_be_visible()
        expect(page.get_by_test_id("how-far-behind")).to_have_text("◇ 1 line behind")
        chord(page, "c")
        expect(page.get_by_test_id("how-far-behind")).to_have_text("◆ Level with the text")

    def test_no_key_is_lost_on_the_way_from_one_leaf_to_another(self) -> None:
        """Keys that follow each other without a pause, as quick hands press them."""
        page = self.enter(OWNER)
        self.bring_in(page, "quick.md", b"# Weir\n\nWords.\n\n# Water\n\nMore.")
        put_cursor(page, "Words.")
        for key in ("Alt+s", "f", "w", "a", "t"):
            page.keyboard.press(key)
        expect(page.get_by_label("Filter the spine")).to_have_value("wat")
        for key in ("Alt+s", "w", "!"):
            page.keyboard.press(key)
        expect(page.locator(".ProseMirror p").nth(1)).to_have_text("Words.!")
        for key in ("Alt+s", "a", "End", "Enter", "?"):
            page.keyboard.press(key)
        expect(page.locator(".ProseMirror p").nth(1)).to_have_text("Words.!?")
        expect(page.locator(".ProseMirror p").nth(1)).not_to_have_attribute("data-style", "body")

    def test_keys_reach_the_ends_of_a_long_text_and_tab_leads_back_to_the_cursor(self) -> None:
        """However little of the text the browser has laid out."""
        page = self.enter(OWNER)
        source = "\n\n".join(["# Head", *(f"Paragraph {number}, with some words in it." for number in range(400))])
        self.bring_in(page, "ends.md", source.encode())
        put_cursor(page, "Paragraph 3,")
        page.keyboard.press("Control+End")
        page.keyboard.type(" And the last.")
        expect(page.locator(".band > p").last).to_contain_text("And the last.")
        expect(page.locator(".band > p").last).to_be_in_viewport()
        page.keyboard.press("Control+Home")
        page.keyboard.type("The ")
        expect(page.locator(".band > p").first).to_contain_text("The Head")
        page.keyboard.press("Control+Shift+End")
        page.wait_for_function("getSelection().toString().length > 10_000")
        page.keyboard.press("Control+End")
        chord(page, "f")
        page.keyboard.press("Tab")
        expect(page.locator("[data-rib]:focus")).to_have_count(1)
        page.keyboard.press("Tab")
        expect(text_of(page)).to_be_focused()
        page.keyboard.type(" Really.")
        expect(page.locator(".band > p").last).to_contain_text("And the last. Really.")
        # Whether it was put there with keys or pressed.
        page.locator(".band > p").nth(398).click()
        page.get_by_role("button", name="Proof: the exact pages").focus()
        page.keyboard.press("Tab")
        page.keyboard.press("Tab")
        expect(text_of(page)).to_be_focused()
        page.keyboard.type("!")
        expect(page.locator(".band > p").nth(398)).to_contain_text("!")

    def slow_down(self, page: Page) -> None:
        """From now on each frame takes the browser 300 milliseconds."""
        page.evaluate("""() => {
            const slow = () => {
                for (const start = performance.now(); performance.now() - start < 300; );
                requestAnimationFrame(slow);
            };
            requestAnimationFrame(slow);
        }""")

    def test_quick_keys_come_in_order_in_a_place_just_gone_to_and_in_a_line_just_begun(self) -> None:
        """Though the browser has laid out nothing there yet."""
        page = self.enter(OWNER)
        source = "\n\n".join(f"# Section {number}\n\nParagraph {number}." for number in range(300))
        self.bring_in(page, "far.md", source.encode())
        page.get_by_label("Filter the spine").fill("Section 150")
        page.locator("[data-rib]").first.focus()
        self.slow_down(page)
        for key in ("Enter", "ArrowDown", "Home", *"In order", "Enter", *"and in a line"):
            page.keyboard.press("Space" if key == " " else key)
        expect(page.locator(".band > p").filter(has_text="In order")).to_have_text("In order")
        expect(page.locator(".band > p").filter(has_text="and in")).to_have_text("and in a lineParagraph 150.")

    def test_opening_a_report_writes_nothing(self) -> None:
        page = self.enter(OWNER)
        self.bring_in(page, "opened.md", b"# Weir\n\nUpper gate.")
        for _ in range(4):
            expect(page.locator(".band > *")).to_have_text(["Weir", "Upper gate."])
            page.reload()

    def test_quick_keys_find_the_cursor_where_it_was_put(self) -> None:
        """However long the browser takes for a frame: until then it does not tell that the cursor has moved."""
        page = self.enter(OWNER)
        self.bring_in(page, "slow.md", b"# Weir\n\nUpper gate.\n\nLower gate.")
        put_cursor(page, "Lower gate.")
        self.slow_down(page)
        for key in ("Home", "Enter", "ArrowUp", "Control+Enter", "Control+Home", "Alt+s", "2", "Control+End", "!"):
            page.keyboard.press(key)
        for key in ("Alt+s", "f", "Tab", "Tab", "?"):
            page.keyboard.press(key)
        expect(page.locator(".band > *:not(.page-edge)")).to_have_text(["Weir", "Upper gate.", "", "", "Lower gate.!?"])
        expect(page.locator(".band > *").first).to_have_attribute("data-style", "heading-2")

    def test_arrow_keys_reach_every_rib_of_a_long_report(self) -> None:
        page = self.enter(OWNER)
        source = "\n\n".join(f"# Section {number}" for number in range(1, 151))
        self.bring_in(page, "long.md", source.encode())
        page.locator("[data-rib]").first.focus()
        for _ in range(60):
            page.keyboard.press("ArrowDown")
        expect(page.locator("[data-rib]:focus")).to_contain_text("Section 61")
        self.assertLess(page.locator("[data-rib]").count(), 120)

    def test_a_name_can_be_changed_and_everyone_sees_it(self) -> None:
        one = self.enter(OWNER)
        address = self.start_report(one, "Working title")
        two = self.enter(OWNER)
        two.goto(address)
        text_of(two).wait_for()
        one.get_by_role("button", name="Report: Working title").click()
        one.get_by_label("Name of the report").fill("The real name")
        one.keyboard.press("Enter")
        expect(two.get_by_role("button", name="Report: The real name")).to_be_visible()

    def test_a_list_begins_as_it_is_typed_and_one_undo_takes_that_back(self) -> None:
        page = self.enter(OWNER)
        self.start_report(page, "Lists")
        put_cursor(page, "")
        page.keyboard.type("Tides")
        page.keyboard.press("Enter")
        page.keyboard.type("- spring")
        item = page.locator(".band > p").nth(1)
        expect(item).to_have_attribute("data-style", "bullet-1")
        expect(item).to_have_text("spring")
        page.keyboard.press("Enter")
        page.keyboard.press("Enter")
        page.keyboard.type("1. ")
        last = page.locator(".band > p").nth(2)
        expect(last).to_have_attribute("data-style", "item-1")
        page.keyboard.press("Control+z")
        expect(last).to_have_attribute("data-style", "body")
        page.keyboard.type("May")
        expect(last).to_have_text("1. May")

    def test_too_much_at_once_is_refused_in_words_and_nothing_is_lost(self) -> None:
        page = self.enter(OWNER)
        page.context.grant_permissions(["clipboard-read", "clipboard-write"])
        self.bring_in(page, "much.md", b"# Head\n\nHere.")
        put_cursor(page, "Here.")
        page.evaluate("() => navigator.clipboard.writeText('far too much '.repeat(200_000))")
        page.keyboard.press("Control+v")
        expect(page.get_by_text("This is more than can be put in at once")).to_be_visible()
        page.evaluate("() => navigator.clipboard.writeText('x'.repeat(100_001))")
        page.keyboard.press("Control+v")
        expect(page.get_by_text("A paragraph has room for 100,000 characters; make several of it.")).to_be_visible()
        page.keyboard.type(" Still.")
        self.saved(page)
        page.reload()
        expect(text_of(page)).to_contain_text("Here. Still.")

    def test_what_a_report_has_no_room_for_is_put_aside_and_saving_goes_on(self) -> None:
        """Put in past the editor, which would refuse it: the server takes it out again, here as well."""
        page = self.enter(OWNER)
        self.bring_in(page, "much.md", b"# Head\n\nHere.")
        put_cursor(page, "Here.")
        page.keyboard.type(" Before.")
        page.evaluate(
            """() => {
              const { editor } = document.querySelector(".ProseMirror");
              const shared = editor.extensionManager.extensions.find(({ name }) => name === "collaboration").options.document;
              const paragraph = shared.getXmlFragment("text").get(1);
              paragraph.setAttribute("style", "x".repeat(5000));
              paragraph.get(0).insert(paragraph.get(0).length, "y".repeat(199_987) + " Far too much.");
            }"""
        )
        aside = page.get_by_role("textbox", name="What you wrote and is not saved")
        expect(aside).to_have_value(" Far too much.")
        expect(page.get_by_role("alert")).to_contain_text("a paragraph has room for 100,000 characters")
        put_cursor(page, "Head")
        page.keyboard.type(" and more")
        self.saved(page)
        # It stays until it has been copied, also when the browser is closed.
        page.on("dialog", lambda dialog: dialog.accept())
        page.reload()
        expect(aside).to_have_value(" Far too much.")
        page.get_by_role("button", name="I have copied what I need").click()
        expect(page.get_by_role("alert")).to_have_count(0)
        page.reload()
        expect(text_of(page)).to_contain_text("Head and more")
        expect(text_of(page)).to_contain_text("Here. Before.yyy")
        expect(aside).to_have_count(0)
        self.saved(page)
