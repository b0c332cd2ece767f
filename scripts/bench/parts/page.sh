# What the page loads, and how soon it can be used on a slow device.
# What is larger than its aim is said, and the rest is measured all the same.
node scripts/bench/first-page.mjs || missed=1
built
[ -x "${CHROMIUM:-/usr/bin/chromium}" ] || apt_install chromium
npm_install "$ROOT/e2e"
. scripts/bench/place.sh
in_browser() { # class, label
  for measured in opening tap; do node "scripts/bench/$measured.mjs" "$url" "$1" "$2" || missed=1; done
}
echo; echo "== The Room in a browser, the processor slowed four times"
demo_school
in_browser "$(psql "$DATABASE_URL" -c "select class_id from child group by 1 order by count(*) desc limit 1")" "36 children"
echo "== Listening in the page, with a simulated instrument for the microphone"
node scripts/bench/hearing.mjs "$url" || missed=1
stop
class_of_60
serve
in_browser "$class" "60 children"
