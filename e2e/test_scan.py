"""Labels read from pictures: every spool's code is read, whatever squares stand in it."""

import io

import segno
from PIL import Image
from playwright.sync_api import expect

from e2e.browser import BrowserCase

# Squares within these look like a code's corners to a reader that looks along the rows of an upright picture.
LIKE_CORNERS = (
    "http://localhost:8136/spools/1",
    "https://workshop.local:8238/spools/2",
    "http://127.0.0.1:8272/spools/3",
)


class Labels(BrowserCase):
    def shown(self, save):
        """The page is given a picture that `save` writes."""
        content = io.BytesIO()
        save(content)
        picture = {"name": "label.png", "mimeType": "image/png", "buffer": content.getvalue()}
        self.page.get_by_label("A picture of a label").set_input_files(picture)

    def test_a_code_whose_squares_look_like_corners_is_read_too_and_a_picture_without_one_says_so(self):
        self.page.goto(f"{self.live_server_url}/scan")
        heading = self.page.get_by_role("heading", level=1)
        expect(heading).to_have_text("Take a picture of a label.")
        self.shown(lambda out: Image.new("L", (300, 200), 128).save(out, "PNG"))
        expect(self.page.get_by_role("alert")).to_contain_text("No code is seen on this picture.")
        for text, said in zip(LIKE_CORNERS, ("One label", "Two labels", "Three labels"), strict=True):
            code = segno.make(text, error="m", micro=False)
            self.shown(lambda out, code=code: code.save(out, kind="png", scale=6, border=4))
            expect(heading).to_have_text(f"{said} read.")
