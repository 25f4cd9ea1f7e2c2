"""Builds sites one after another, each in a process of its own that has loaded the builder already: a line of JSON for each on standard input
(folder, arguments, a folder with packages or null, a file for what is said), and its exit status on standard output."""

import importlib
import json
import os
import signal
import sys

from sphinx.application import builtin_extensions
from sphinx.cmd.build import main

for extension in builtin_extensions:
    importlib.import_module(extension)

for line in sys.stdin:
    asked = json.loads(line)
    child = os.fork()
    if child == 0:
        signal.alarm(60)
        os.chdir(asked["folder"])
        if asked["packages"] is not None:
            sys.path.insert(0, asked["packages"])
        os.dup2(os.open(os.devnull, os.O_WRONLY), 1)
        os.dup2(os.open(asked["said"], os.O_WRONLY | os.O_CREAT | os.O_TRUNC), 2)
        status = 1
        try:
            status = main(asked["arguments"])
        finally:
            sys.stdout.flush()
            sys.stderr.flush()
            os._exit(status)
    print(os.waitstatus_to_exitcode(os.waitpid(child, 0)[1]), flush=True)
