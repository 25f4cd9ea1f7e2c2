#!/bin/sh
# Waits for all parts, and makes one report of them: the same, byte for byte, as that of a check on one machine.
#SBATCH --job-name=pionero-merge
#SBATCH --output=merge.log
pionero report merge "$REPORTS"/part-*.jsonl --format jsonl > "$REPORTS/whole.jsonl"
[ $? -le 2 ]
