# A place for a part of ./bench: a cluster that goes away with it, and servers over its databases. To be sourced.

PLACE=$(mktemp -d)
chmod 755 "$PLACE"
server=""
stop() { [ -z "$server" ] || { kill "$server" && wait "$server"; } 2>/dev/null || true; server=""; }
trap 'stop; cluster_stop "$PLACE/pg"; rm -rf "$PLACE"' EXIT
trap 'exit 130' INT TERM
psql() { "$PG_BIN/psql" -qAt "$@"; }

# Durable as in real life: fsync on, the defaults of Debian's package.
cluster() { need_postgres; cluster_start "$PLACE/pg" "$@"; }

database() { # name: a migrated one
  psql "$DATABASE_ADMIN_URL" -c "create database $1" >/dev/null
  export DATABASE_URL=${DATABASE_ADMIN_URL%/postgres}/$1
  "$TARGET/release/bright-row" migrate
}

serve() { # sets url and server
  "$TARGET/release/bright-row" serve --port 0 >"$PLACE/out" 2>"$PLACE/err" &
  server=$!
  for _ in $(seq 100); do grep -q "Bright Row is at" "$PLACE/out" && break; kill -0 "$server" || fail "$(cat "$PLACE/err")"; sleep 0.1; done
  url=$(sed -n 's/^Bright Row is at //p' "$PLACE/out")
}

demo_school() { # a server over the demo's school; sets url
  cluster
  database demo
  "$TARGET/release/bright-row" demo >/dev/null
  RUST_LOG=warn serve
}

class_of_60() { # sets class; the children's ids are in CHILDREN
  database bench
  export CHILDREN=$PLACE/children
  step "Making a class of 60 with 40,000 observations" bash -c "'$TARGET/release/examples/bench_school' >'$PLACE/ids'"
  psql "$DATABASE_URL" -c "vacuum analyze" >/dev/null
  class=$(head -1 "$PLACE/ids")
  tail -n +2 "$PLACE/ids" >"$CHILDREN"
}

sign_in() { # sets COOKIE
  COOKIE=$(curl -fsS -D - -o /dev/null -H 'content-type: application/json' \
    -d '{"email":"director@demo.example","password":"bright-row-demo"}' "$url/api/session" | sed -n 's/^set-cookie: \(bright_row=[^;]*\).*/\1/ip')
  export COOKIE
}

# The median latency in microseconds and the transactions a second of a pgbench script.
reference() { # script
  rm -f "$PLACE"/log.*
  "$PG_BIN/pgbench" -n -M prepared -c $CLIENTS -j 2 -T "$SECONDS_EACH" -l --log-prefix="$PLACE/log" \
    -D program="$program" -D class="$class" -D observer="$observer" -D children="{$list}" \
    -f "scripts/bench/$1.sql" "$DATABASE_URL" >"$PLACE/pgbench" 2>&1 || fail "$(cat "$PLACE/pgbench")"
  printf '%s %s\n' "$(cat "$PLACE"/log.* | awk '{print $3}' | sort -n | awk '{v[NR]=$1} END {print v[int((NR+1)/2)]}')" \
    "$(sed -n 's/^tps = \([0-9.]*\).*/\1/p' "$PLACE/pgbench")"
}

# Median, rate and failures of a wrk script against the server.
load() { # script, path below the class
  wrk -t 2 -c $CLIENTS -d "${SECONDS_EACH}s" -s "scripts/bench/$1.lua" "$url/api/classes/$class/$2" >"$PLACE/wrk" 2>&1 || fail "$(cat "$PLACE/wrk")"
  sed -n 's/^RESULT \([0-9]*\) \([0-9.]*\) \(.*\)/\1 \2 \3/p' "$PLACE/wrk"
}

# Says a figure beside its aim; missed is 1 where it is worse by more than the noise (a share of it).
judge() { # what, figure, "at most" or "at least", aim, noise, further words
  local verdict
  verdict=$(awk -v f="$2" -v side="$3" -v aim="$4" -v noise="$5" 'BEGIN {
    print side == "at most" ? (f <= aim ? "" : f <= aim * (1 + noise) ? ", within the noise" : ", MISSED") \
                            : (f >= aim ? "" : f >= aim * (1 - noise) ? ", within the noise" : ", MISSED") }')
  printf '%-26s %s (aim: %s %s; noise %.0f %%%s) %s\n' "$1" "$2" "$3" "$4" "$(awk -v n="$5" 'BEGIN {print n * 100}')" "$verdict" "${6:-}"
  case $verdict in *MISSED*) missed=1 ;; esac
}

# How far two readings of a reference lie apart, as a share of them; at least a twentieth.
noise_of() { awk -v a="$1" -v b="$2" 'BEGIN { n = (a > b ? a - b : b - a) / ((a + b) / 2); print n < 0.05 ? 0.05 : n }'; }
