"""What every command ends with: a sentence and an exit code."""

from __future__ import annotations

from typing import NoReturn

import typer

UNREADABLE = 2  # exit code for input that cannot be read


def fail(message: str, code: int = UNREADABLE) -> NoReturn:
    """End with a sentence."""
    typer.echo(message, err=True)
    raise typer.Exit(code)


def refuse_taken(host: str, port: int) -> None:
    """Stop before anything is touched when another program listens there: it may be this one."""
    import socket

    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    with socket.socket(family, socket.SOCK_STREAM) as tried:
        tried.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            tried.bind((host.strip("[]"), port))
        except OSError as error:
            said = f"Port {port} cannot be listened on ({error.strerror}); perhaps Up Tide runs there already."
            fail(f"{said} Nothing was touched. Give another with --port.", 1)
