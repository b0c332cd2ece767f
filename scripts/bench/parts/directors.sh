# DIRECTORS directors (300) who walk their rounds at once, each with two pages that are open and live, through HAProxy before two and then
# four server processes; one of them is killed in between. SECONDS_EACH (60) each; SOAK=yes: two processes for ten minutes instead.
built
. scripts/bench/place.sh
. scripts/bench/many-schools.sh
command -v haproxy >/dev/null || apt_install haproxy
DIRECTORS=${DIRECTORS:-300} LOOKS=20
[ "$SECONDS_EACH" != 10 ] || SECONDS_EACH=60
cluster -c shared_preload_libraries=pg_stat_statements -c max_connections=200
step "Making $DIRECTORS schools with $((DIRECTORS * 100 * LOOKS)) looks" made many "$DIRECTORS"

servers=() proxy="" port=$((20000 + RANDOM % 10000))
trap 'for one in "${servers[@]}" $proxy; do kill "$one" 2>/dev/null || true; done; wait; cluster_stop "$PLACE/pg"; rm -rf "$PLACE"' EXIT
begin_server() { # number
  RUST_LOG=warn "$TARGET/release/bright-row" serve --port $((port + $1)) >"$PLACE/server$1" 2>&1 &
  servers[$1]=$!
  until grep -q "Bright Row is at" "$PLACE/server$1"; do kill -0 "${servers[$1]}" || fail "$(cat "$PLACE/server$1")"; sleep 0.1; done
}
behind_proxy() { # how many servers; sets url
  local n
  for one in "${servers[@]}" $proxy; do kill "$one" 2>/dev/null || true; wait "$one" || true; done
  servers=()
  {
    printf 'global\n maxconn 4000\ndefaults\n mode http\n timeout connect 2s\n timeout client 1h\n timeout server 1h\n option redispatch\n'
    printf 'frontend pages\n bind 127.0.0.1:%s\n default_backend servers\nbackend servers\n balance leastconn\n option httpchk GET /readyz\n' "$port"
    for n in $(seq "$1"); do printf ' server s%s 127.0.0.1:%s check inter 500ms fall 1 rise 1\n' "$n" $((port + n)); done
  } >"$PLACE/proxy.cfg"
  for n in $(seq "$1"); do begin_server "$n"; done
  haproxy -db -f "$PLACE/proxy.cfg" >"$PLACE/proxy" 2>&1 &
  proxy=$!
  url=http://127.0.0.1:$port
  until curl -fs "$url/readyz" >/dev/null; do kill -0 $proxy || fail "$(cat "$PLACE/proxy")"; sleep 0.1; done
}
memory() { for one in "${servers[@]}"; do awk '/VmRSS/ {printf "%.0f ", $2/1024}' "/proc/$one/status" 2>/dev/null || true; done; }
of_it() { node -e 'console.log(process.argv[2].split(".").reduce((at, key) => at[key], JSON.parse(process.argv[1])))' "$said" "$1"; }
walk() { # what, seconds
  local before after
  before=$(psql "$DATABASE_URL" -c "select count(*) from observation")
  said=$(node scripts/bench/directors.mjs "$url" "$2")
  after=$(psql "$DATABASE_URL" -c "select count(*) from observation")
  echo "$1: $said"
  echo "  memory of the servers, MB: $(memory)"
  [ $((after - before)) -ge "$(of_it stored)" ] || { echo "  $((after - before)) are there of $(of_it stored) that were answered: MISSED"; missed=1; }
}

export CLASSES=$PLACE/classes
behind_proxy 2
# One class for each director.
classes_of "$DIRECTORS" | awk '!seen[$2]++' >"$CLASSES"
if [ -n "${SOAK:-}" ]; then
  walk "the first minute" 60
  first=$(memory | tr ' ' '\n' | sort -n | tail -1)
  walk "ten minutes" 600
  judge "memory after ten minutes" "$(memory | tr ' ' '\n' | sort -n | tail -1)" "at most" $((first + first / 10)) 0.05 "MB, after the first minute $first"
else
  for many in 2 4; do
    [ "$many" = 2 ] || behind_proxy "$many"
    walk "$many processes" "$SECONDS_EACH"
    judge "99 % of observations, ms" "$(of_it posts.p99)" "at most" 150 0.05
    judge "heard later than 1 s" "$(of_it heard.late)" "at most" 0 0.05 "of $(of_it heard.many)"
  done
  (sleep 15; kill -KILL "${servers[1]}"; sleep 5; RUST_LOG=warn exec "$TARGET/release/bright-row" serve --port $((port + 1)) >/dev/null 2>&1) &
  again=$!
  walk "a process killed and begun again" 40
  kill $again 2>/dev/null || true
  judge "failures for so long, ms" "$(of_it failedWithinMs)" "at most" 2000 0.05 "$(of_it failed) requests"
fi
