"""The name that Kyklos goes by on the house's own network: told by multicast DNS to whoever asks, and to nobody beyond it."""

from __future__ import annotations

import socket
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from zeroconf import Zeroconf

NAME = "kyklos.local"
SERVICE, SECURE = "_http._tcp.local.", "_https._tcp.local."


def announce(address: str, port: int, *, https: bool = False, interfaces: Sequence[str] | None = None) -> Callable[[], None]:
    """Tell the network where `kyklos.local` is.

    Args:
        address: Of this machine, as other devices see it.
        port: On which it answers.
        https: How it answers.
        interfaces: Addresses of those on which it is told; that of the machine unless given.

    Returns: What takes the name back.

    Raises:
        OSError: If the network takes no multicast.
    """
    from zeroconf import ServiceInfo, Zeroconf  # only here: most households never ask for it

    kind = SECURE if https else SERVICE
    speaker: Zeroconf = Zeroconf(interfaces=list(interfaces or [address]))
    service = ServiceInfo(
        kind, f"Kyklos.{kind}", port=port, addresses=[socket.inet_aton(address)], server=f"{NAME}.", properties={"path": "/"}
    )
    try:
        speaker.register_service(service, allow_name_change=True)
    except BaseException:
        speaker.close()
        raise

    def stop() -> None:
        speaker.unregister_service(service)
        speaker.close()

    return stop
