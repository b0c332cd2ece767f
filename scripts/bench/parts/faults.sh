# The fault and the concurrency schedules, whole. As root the database loses its power: what was never forced to the disk is gone then.
built
npm_install web
. scripts/bench/place.sh
SCHEDULES=${SCHEDULES:-200}
durable() { # cluster settings: a cluster on a disk of its own where that can be
  [ "$(id -u)" != 0 ] || { disk_for "$PLACE/pg"; trap 'stop; cluster_stop "$PLACE/pg"; disk_gone "$PLACE/pg"; rm -rf "$PLACE"' EXIT; }
  cluster "$@"
}
durable
BINARY=$TARGET/release/bright-row faults "$SCHEDULES" "$PLACE/pg" || missed=1
echo "== Requests that meet: $SCHEDULES schedules"
BRIGHT_ROW_TEST_DATABASE_URL=$DATABASE_ADMIN_URL BRIGHT_ROW_SCHEDULES=$SCHEDULES \
  cargo test --release --workspace --locked --quiet --test schedules || missed=1
if [ "$(id -u)" = 0 ]; then
  # The same must find what is lost where answered does not mean on the disk: else it proves nothing.
  cluster_stop "$PLACE/pg"; disk_gone "$PLACE/pg"; rm -rf "$PLACE/pg"
  durable -c fsync=off
  if (BINARY=$TARGET/release/bright-row; faults 10 "$PLACE/pg") >"$PLACE/said" 2>&1; then
    echo "fsync off: nothing was lost in 10 schedules: MISSED"; missed=1
  else
    grep -m1 -E "every observation, once|every event, once|still waiting" "$PLACE/said" | sed 's/^/fsync off, found: /' || { cat "$PLACE/said"; missed=1; }
  fi
fi
