#!/bin/sh
# The job after the matrix, with all the reports: fails when a package has an error.
pionero report merge reports/part-*.jsonl --format junit > report.xml
