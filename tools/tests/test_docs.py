"""Pages that are read in an editor too, and whose pictures and pages are where they say."""

import re
from unittest import TestCase

from tools.house import ROOT

PAGES = [*ROOT.glob("*.md"), *ROOT.glob("docs/**/*.md")]
LINK = re.compile(r"\]\(([^)#\s]+)[^)]*\)|^\[[^\]]+\]: (\S+)", re.MULTILINE)


class Pages(TestCase):
    def test_no_line_is_over_120_characters(self):
        long = [
            f"{page.relative_to(ROOT)}:{n}"
            for page in PAGES
            for n, line in enumerate(page.read_text("utf-8").splitlines(), 1)
            if len(line) > 120
        ]
        self.assertEqual(long, [])

    def test_every_link_leads_somewhere(self):
        seen, lost = 0, []
        for page in PAGES:
            for found in LINK.finditer(page.read_text("utf-8")):
                there = found[1] or found[2]
                if "://" not in there:
                    seen += 1
                    if not (page.parent / there).exists():
                        lost.append(f"{page.relative_to(ROOT)}: {there}")
        self.assertEqual(lost, [])
        self.assertGreater(seen, 20)
