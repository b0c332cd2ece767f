# The fault and the concurrency schedules, whole.
built
. scripts/bench/place.sh
cluster
BINARY=$TARGET/release/bright-row faults "${SCHEDULES:-500}" "$PLACE/pg"
echo "== Requests that meet: ${SCHEDULES:-500} schedules"
BRIGHT_ROW_TEST_DATABASE_URL=$DATABASE_ADMIN_URL BRIGHT_ROW_SCHEDULES=${SCHEDULES:-500} \
  cargo test --release --workspace --locked --quiet --test schedules
