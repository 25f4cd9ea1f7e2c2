#!/bin/sh
# One job of an array: checks its part of the packages, and leaves a report for the merge.
#SBATCH --job-name=pionero-check
#SBATCH --requeue
#SBATCH --open-mode=append
#SBATCH --output=check-%a.log
# PACKAGES: a file that lists all packages. REPORTS: a folder that all machines share.
part="$REPORTS/part-$SLURM_ARRAY_TASK_ID.jsonl"
# The number of the job, and how many there are, come from its surroundings. A job that was killed and runs again finds what it had
# checked in the folder that the machines share, and goes on from there.
XDG_CACHE_HOME="$REPORTS/cache" pionero check --from-list "$PACKAGES" --shard env --format jsonl > "$part.begun"
status=$?
# 1 and 2 say that packages have findings, or could not be opened: the report says which.
[ "$status" -le 2 ] || exit "$status"
mv "$part.begun" "$part"
