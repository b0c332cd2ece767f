# The room, single observations and memory with short runs, for every day.
SECONDS_EACH=4 QUICK=yes . scripts/bench/parts/load.sh
