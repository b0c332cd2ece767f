# The leader of three PostgreSQL nodes is killed, paused or cut off, FAULTS times (20), while devices record.
server_built
npm_install web
. scripts/bench/place.sh
. scripts/ha/nodes.sh
HA=$PLACE/ha
ha_need
trap 'ha_down; rm -rf "$PLACE"' EXIT
step "Starting three nodes" ha_up
HA=$HA HA_FAULTS=${FAULTS:-20} BRIGHT_ROW_BINARY=$TARGET/release/bright-row BRIGHT_ROW_SCRIPTS=$ROOT/scripts \
  BRIGHT_ROW_TEST_DATABASE_URL="$DATABASE_ADMIN_URL?sslmode=disable" npm --prefix web run --silent ha 2>&1 | tee "$PLACE/said" || missed=1
read -r worst made longest <<<"$(sed -n 's/.*RESULT \([0-9.]*\) \([0-9]*\) \([0-9.]*\).*/\1 \2 \3/p' "$PLACE/said")"
judge "writes go on, 95th, s" "${worst:-999}" "at most" 15 0.05 "${made:-0} observations, each stored once; longest ${longest:-?} s"
