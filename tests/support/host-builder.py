"""Builds sites, each in a process of its own that has loaded the builder already: to load it takes as long as to build. With `ask`, the path
of a socket and arguments of the builder it asks for a build, whose output and exit status become its own; with the builder's name and the path it serves."""

import json
import os
import socket
import sys


def ask(path, arguments):
    with socket.socket(socket.AF_UNIX) as server:
        server.connect(path)
        asked = {"folder": os.getcwd(), "arguments": arguments, "packages": os.environ.get("PYTHONPATH")}
        socket.send_fds(server, [json.dumps(asked).encode()], [1, 2])
        status = server.recv(1)
    sys.exit(status[0] if status else 1)


def sphinx():
    import importlib

    from sphinx.application import builtin_extensions
    from sphinx.cmd.build import main

    for extension in builtin_extensions:
        importlib.import_module(extension)
    return main


def mkdocs():
    import mkdocs.commands.build
    import mkdocs.contrib.search

    def run(arguments):
        # Loaded late: it asks Python for the themes as soon as it is.
        from mkdocs.__main__ import cli

        cli(arguments, "mkdocs")

    return run


def serve(builder, path):
    import signal

    run = {"sphinx": sphinx, "mkdocs": mkdocs}[builder]()
    with socket.socket(socket.AF_UNIX) as server:
        server.bind(path)
        server.listen()
        print("ready", flush=True)
        while True:
            client = server.accept()[0]
            child = os.fork()
            if child == 0:
                signal.alarm(60)
                build(run, client)
            client.close()
            # One after another, so that the time of each is on record.
            os.waitpid(child, 0)


def build(run, client):
    message, streams, _, _ = socket.recv_fds(client, 1 << 16, 2)
    asked = json.loads(message)
    for number, stream in enumerate(streams, start=1):
        os.dup2(stream, number)
    os.chdir(asked["folder"])
    if asked["packages"] is not None:
        sys.path.insert(0, asked["packages"])
    status = 1
    try:
        status = run(asked["arguments"])
    except SystemExit as end:
        status = end.code or 0
    except Exception:
        import traceback

        traceback.print_exc()
    finally:
        sys.stdout.flush()
        sys.stderr.flush()
        client.send(bytes([status if isinstance(status, int) else 1]))
        os._exit(status)


if sys.argv[1] == "ask":
    ask(sys.argv[2], sys.argv[3:])
else:
    serve(sys.argv[1], sys.argv[2])
