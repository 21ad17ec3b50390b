"""How a gardener tells what a field asks for, where its name has trade in it."""

import tomllib
from functools import cache
from importlib.resources import files


@cache
def how_to_tell() -> dict[str, dict[str, str]]:
    """Words by collection and field; amounts in them as `filled_text.fill` takes them."""
    text = files("euhydra").joinpath("data", "how_to_tell.toml").read_text("utf-8")
    return tomllib.loads(text)
