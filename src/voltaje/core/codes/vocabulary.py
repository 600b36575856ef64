"""Small types of the trade that every family shares: a conductor's size and its metal."""

from __future__ import annotations

from typing import Literal, NewType

# a size as its family's tables name it: "14", "4/0", "500", "2.5"
Size = NewType("Size", str)
NO_SIZE = Size("")
Metal = Literal["copper", "aluminum"]
