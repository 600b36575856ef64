"""A page as a reader of its source would have it on one line: no breaks between tags and texts."""

import re


def flat(html):
    """The page with one space where there were any, and none beside a tag's bracket."""
    return re.sub(r"\s*([<>])\s*", r"\1", re.sub(r"\s+", " ", html))
