#!/bin/sh
# Checks the packages of a list on all machines of a cluster: sh submit.sh packages.txt /shared/reports 8
set -eu
export PACKAGES="$1" REPORTS="$2"
jobs="$3"
here=$(dirname "$0")
mkdir -p "$REPORTS"
array=$(sbatch --parsable --array="1-$jobs" "$here/check-array.sh")
sbatch --parsable --dependency="afterok:$array" "$here/merge.sh"
