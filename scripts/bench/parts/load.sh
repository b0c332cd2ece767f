# Requests under load beside the plain statements that do the same.
built
command -v wrk >/dev/null || apt_install wrk
. scripts/bench/place.sh
cluster
class_of_60
serve
sign_in
program=$(psql "$DATABASE_URL" -c "select program_id from program")
observer=$(psql "$DATABASE_URL" -c "select account_id from account limit 1")
list=$(paste -sd, "$CHILDREN")
# The rate of a wrk script beside that of a reference taken before and after it: the difference between the two is the noise.
beside() { # reference, script, path; sets before, after, median, rate
  local said
  said=$(reference "$1"); read -r before_median before <<<"$said"
  said=$(load "$2" "$3"); read -r median rate errors <<<"$said"
  said=$(reference "$1"); read -r after_median after <<<"$said"
  [ "$errors" = 0 ] || fail "Some requests were not answered: the figures do not count."
}
in_ms() { awk -v us="$1" 'BEGIN { printf "%.2f", us / 1000 }'; }
echo "$CLIENTS clients, $SECONDS_EACH s each, class of 60 with 40,000 observations, fsync on"
beside room room room
judge "GET room, to its SQL" "$(awk -v m="$median" -v a="$before_median" -v b="$after_median" 'BEGIN { printf "%.2f", 2 * m / (a + b) }')" \
  "at most" 1.2 "$(noise_of "$before_median" "$after_median")" \
  "median $(in_ms "$median") ms ($rate/s); its SQL $(in_ms "$before_median") and $(in_ms "$after_median") ms"
# Once something was observed everything is read anew. One client on both sides.
said=$(CLIENTS=1 SECONDS_EACH=3 reference room); read -r before_median _ <<<"$said"
fresh=$(node scripts/bench/fresh-room.mjs "$url" "$class")
said=$(CLIENTS=1 SECONDS_EACH=3 reference room); read -r after_median _ <<<"$said"
judge "the same after an observation" "$(awk -v m="$fresh" -v a="$before_median" -v b="$after_median" 'BEGIN { printf "%.2f", 2 * m / (a + b) }')" \
  "at most" 1.2 "$(noise_of "$before_median" "$after_median")" \
  "one client, median $(in_ms "$fresh") ms; its SQL $(in_ms "$before_median") and $(in_ms "$after_median") ms"
if [ -z "${QUICK:-}" ]; then
  # One request after the other: a term is read by one person. Before anything is added.
  said=$(CLIENTS=1 SECONDS_EACH=3 reference term); read -r sql_term _ <<<"$said"
  node scripts/bench/term.mjs "$url" "$class" "$(in_ms "$sql_term")" || missed=1
fi
beside observation observation observations
judge "POST observations, to a plain insert" "$(awk -v r="$rate" -v a="$before" -v b="$after" 'BEGIN { printf "%.2f", 2 * r / (a + b) }')" \
  "at least" 0.7 "$(noise_of "$before" "$after")" "$rate/s, median $(in_ms "$median") ms; plain insert $before and $after/s"
judge "server, MB at its highest" "$(awk '/VmHWM/ {printf "%.0f", $2/1024}' "/proc/$server/status")" "at most" 60 0.05
