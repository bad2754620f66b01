"""Who is computed together in a block: spools that share a container, directly or through others."""

from collections.abc import Sequence
from dataclasses import dataclass


@dataclass
class Group:
    """Spools and containers that a block computes together, by their numbers."""

    spools: list[int]
    boxes: list[int]
    block_digest: bytes = b""


def groups_of(visited: Sequence[Sequence[int]], boxes: int) -> list[Group]:
    """The groups of a block, given the containers that each spool is in during it, and how many containers there are.
    A spool that is in none is a group by itself.
    """
    head = list(range(boxes))

    def root(box: int) -> int:
        while head[box] != box:
            box = head[box]
        return box

    for of_spool in visited:
        for box in of_spool[1:]:
            head[root(box)] = root(of_spool[0])
    found: dict[int, Group] = {}
    for box in range(boxes):
        found.setdefault(root(box), Group([], [])).boxes.append(box)
    alone = []
    for n, of_spool in enumerate(visited):
        if of_spool:
            found[root(of_spool[0])].spools.append(n)
        else:
            alone.append(Group([n], []))
    return [*alone, *found.values()]
