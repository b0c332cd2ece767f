# Rooms and observations of many schools beside those of one, in the same run: SCHOOLS programs (1,000) with 100 children and
# LOOKS looks at each (100, so ten million).
built
command -v wrk >/dev/null || apt_install wrk
. scripts/bench/place.sh
SCHOOLS=${SCHOOLS:-1000} LOOKS=${LOOKS:-100}
# What a machine for many schools would be set to; everything else as Debian has it.
cluster -c shared_buffers=1GB -c max_wal_size=8GB -c shared_preload_libraries=pg_stat_statements

. scripts/bench/many-schools.sh

many() { # sets median and rate of a run over the classes
  local said
  said=$(wrk -t 2 -c $CLIENTS -d "${SECONDS_EACH}s" -s scripts/bench/many.lua "$url" 2>&1 | sed -n 's/^RESULT //p')
  read -r median rate errors <<<"$said"
  [ "${errors:-1}" = 0 ] || fail "Some requests were not answered: the figures do not count."
}
measured() { # prefix, schools to take: sets PREFIX_room, PREFIX_posts
  export CLASSES=$PLACE/classes
  classes_of "$2" >"$CLASSES"
  many; printf -v "$1_room" %s "$median"
  OBSERVE=yes many; printf -v "$1_posts" %s "$rate"
}

step "Making one school" made one 1
serve; measured one 1
memory_of_one=$(awk '/VmHWM/ {printf "%.0f", $2/1024}' "/proc/$server/status")
stop
step "Making $SCHOOLS schools with $((SCHOOLS * 100 * LOOKS)) looks" made many "$SCHOOLS"
psql "$DATABASE_URL" -F ' ' -c "select relname, pg_size_pretty(pg_table_size(relid)), pg_size_pretty(pg_indexes_size(relid)), n_live_tup
  from pg_stat_user_tables order by pg_total_relation_size(relid) desc limit 6" | awk '{print "  " $1 ": " $2 " " $3 ", indexes " $4 " " $5 ", " $6 " rows"}'
scans="select coalesce(string_agg(relname || ' (' || seq_scan || ')', ', '), 'none')
  from pg_stat_user_tables where seq_scan > 0 and n_live_tup > 20000"
serve
psql "$DATABASE_URL" -c "select pg_stat_reset()" >/dev/null
measured many 40
whole=$(psql "$DATABASE_URL" -c "select pg_stat_force_next_flush()" -c "$scans" | tail -1)
memory_of_many=$(awk '/VmHWM/ {printf "%.0f", $2/1024}' "/proc/$server/status")
stop
# One school once more: the difference to the first time is this machine's noise.
export DATABASE_URL=${DATABASE_ADMIN_URL%/postgres}/one
serve; measured again 1
ratio() { awk -v a="$1" -v b="$2" -v c="$3" 'BEGIN { printf "%.2f", 2 * a / (b + c) }'; }
judge "room, to one school's" "$(ratio "$many_room" "$one_room" "$again_room")" "at most" 1.3 "$(noise_of "$one_room" "$again_room")" \
  "median $many_room us; one school $one_room and $again_room us"
judge "observations, to one school's" "$(ratio "$many_posts" "$one_posts" "$again_posts")" "at least" 0.77 "$(noise_of "$one_posts" "$again_posts")" \
  "$many_posts/s; one school $one_posts and $again_posts/s"
echo "  server $memory_of_many MB at its highest; with one school $memory_of_one MB"
echo "  whole tables read in order while it was measured, of more than 20,000 rows: $whole"
[ "$whole" = none ] || missed=1
