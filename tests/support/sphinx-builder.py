"""Builds sites, each in a process of its own that has loaded the builder already: to load it takes as long as to build. With the path of a
socket and arguments of the builder it asks for a build, whose output and exit status become its own; with the path alone it serves."""

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


def serve(path):
    import importlib
    import signal

    from sphinx.application import builtin_extensions

    for extension in builtin_extensions:
        importlib.import_module(extension)
    with socket.socket(socket.AF_UNIX) as server:
        server.bind(path)
        server.listen()
        print("ready", flush=True)
        while True:
            client = server.accept()[0]
            child = os.fork()
            if child == 0:
                signal.alarm(60)
                build(client)
            client.close()
            # One after another, so that the time of each is on record.
            os.waitpid(child, 0)


def build(client):
    from sphinx.cmd.build import main

    message, streams, _, _ = socket.recv_fds(client, 1 << 16, 2)
    asked = json.loads(message)
    for number, stream in enumerate(streams, start=1):
        os.dup2(stream, number)
    os.chdir(asked["folder"])
    if asked["packages"] is not None:
        sys.path.insert(0, asked["packages"])
    status = 1
    try:
        status = main(asked["arguments"])
    finally:
        sys.stdout.flush()
        sys.stderr.flush()
        client.send(bytes([status]))
        os._exit(status)


if len(sys.argv) > 2:
    ask(sys.argv[1], sys.argv[2:])
else:
    serve(sys.argv[1])
