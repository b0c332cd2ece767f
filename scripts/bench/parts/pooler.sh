# Rooms and observations through PgBouncer in transaction mode beside the same without it: PGBOUNCER names one of at least 1.21, which keeps
# prepared statements (Debian 12 has 1.18; its source builds with libevent). One school, two processes.
built
command -v wrk >/dev/null || apt_install wrk
. scripts/bench/place.sh
PGBOUNCER=${PGBOUNCER:-pgbouncer}
command -v "$PGBOUNCER" >/dev/null || fail "PGBOUNCER names no PgBouncer."
"$PGBOUNCER" --version | awk '/PgBouncer/ { split($2, v, "."); exit !(v[1] > 1 || v[2] >= 21) }' || fail "PgBouncer keeps prepared statements from 1.21 on."
cluster
class_of_60
direct=$DATABASE_URL
run() { # sets median of the room and rate of observations
  serve
  sign_in
  read -r room _ errors <<<"$(load room room)"
  [ "$errors" = 0 ] || fail "Some requests were not answered: the figures do not count."
  read -r _ posts errors <<<"$(load observation observations)"
  [ "$errors" = 0 ] || fail "Some requests were not answered: the figures do not count."
}
run; before_room=$room before_posts=$posts
stop

pooled_port=$((20000 + RANDOM % 10000))
address=${direct#*@}
user=${direct#postgres://}; user=${user%%@*}
cat >"$PLACE/pgbouncer.ini" <<INI
[databases]
bench = host=127.0.0.1 port=$(sed 's#.*:\([0-9]*\)/.*#\1#' <<<"$address") dbname=bench
[pgbouncer]
listen_addr = 127.0.0.1
listen_port = $pooled_port
auth_type = plain
auth_file = $PLACE/users
pool_mode = transaction
default_pool_size = 8
max_prepared_statements = 200
ignore_startup_parameters = extra_float_digits,options
pidfile = $PLACE/pooler/pid
logfile = $PLACE/pooler/log
INI
printf '"%s" "%s"\n' "${user%%:*}" "${user#*:}" >"$PLACE/users"
chmod 644 "$PLACE/users" "$PLACE/pgbouncer.ini"
mkdir "$PLACE/pooler"
[ "$(id -u)" != 0 ] || chown postgres "$PLACE/pooler"
as_pg "$PGBOUNCER" -q -d "$PLACE/pgbouncer.ini"
trap 'stop; kill "$(cat "$PLACE/pooler/pid")" 2>/dev/null || true; cluster_stop "$PLACE/pg"; rm -rf "$PLACE"' EXIT
export DATABASE_URL=postgres://$user@127.0.0.1:$pooled_port/bench BRIGHT_ROW_NOTICES_URL=$direct
until "$PG_BIN/psql" -qAt "$DATABASE_URL" -c "select 1" >/dev/null 2>&1; do [ -s "$PLACE/pooler/pid" ] || fail "$(cat "$PLACE/pooler/log")"; sleep 0.1; done
run; pooled_room=$room pooled_posts=$posts
# A change is heard by a page of this process, whose one connection for notices passes the pooler by.
curl -sN -m 10 -H "Cookie: $COOKIE" "$url/api/classes/$class/live" >"$PLACE/heard" &
heard=$!
until grep -q . "$PLACE/heard"; do kill -0 $heard || fail "No stream of notices was opened."; sleep 0.1; done
SECONDS_EACH=1 load observation observations >/dev/null
wait $heard || true
grep -q observations "$PLACE/heard" || { echo "  nothing was heard through the pooler: MISSED"; missed=1; }
stop
export DATABASE_URL=$direct
unset BRIGHT_ROW_NOTICES_URL
run
ratio() { awk -v a="$1" -v b="$2" -v c="$3" 'BEGIN { printf "%.2f", 2 * a / (b + c) }'; }
judge "room, to the same without" "$(ratio "$pooled_room" "$before_room" "$room")" "at most" 1.3 "$(noise_of "$before_room" "$room")" \
  "median $pooled_room us; without $before_room and $room us"
judge "observations, to the same without" "$(ratio "$pooled_posts" "$before_posts" "$posts")" "at least" 0.77 "$(noise_of "$before_posts" "$posts")" \
  "$pooled_posts/s; without $before_posts and $posts/s"
