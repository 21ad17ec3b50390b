"""A garden as a key, for what is worked out once for each."""

from dataclasses import dataclass

from euhydra.garden.model import Garden


@dataclass(frozen=True, eq=False)
class SameGarden:
    """A garden as a key: the same one, not one alike, for comparing whole gardens takes long."""

    garden: Garden

    def __eq__(self, other: object) -> bool:
        return isinstance(other, SameGarden) and other.garden is self.garden

    def __hash__(self) -> int:
        return id(self.garden)
