"""Under which addresses other devices of the home network find a page."""

from fastapi import Request
from starlette.datastructures import URL

OF_THIS_COMPUTER = ("127.0.0.1", "localhost", "::1")
"""Addresses by which a computer calls itself."""


def is_only_here(request: Request) -> bool:
    """Whether a page was asked for under an address that no other device knows."""
    return request.url.hostname in OF_THIS_COMPUTER


def for_phones(request: Request, url: URL) -> list[str]:
    """A page under each name that the home network knows; none where only this computer is served."""
    hosts: tuple[str, ...] = request.app.state.home_hosts
    return [str(url.replace(hostname=host)) for host in hosts]
