# Databases with many schools, and their directors. To be sourced after place.sh.

made() { # database, schools: a database with so many schools
  database "$1"
  "$TARGET/release/bright-row" demo >/dev/null
  psql "$DATABASE_URL" -v schools="$2" -v children=50 -v looks="$LOOKS" -f scripts/bench/schools.sql
  "$TARGET/release/bright-row" rebuild >/dev/null
  psql "$DATABASE_URL" -c "vacuum analyze" -c "create extension pg_stat_statements"
}
signed_in() { # email: its cookie
  curl -fsS -D - -o /dev/null -H 'content-type: application/json' -d "{\"email\":\"$1\",\"password\":\"bright-row-demo\"}" "$url/api/session" |
    sed -n 's/^set-cookie: \(bright_row=[^;]*\).*/\1/ip'
}
classes_of() { # schools to take: a line for each of their classes, with the director's cookie and the children
  local school email cookie
  psql "$DATABASE_URL" -F ' ' -c "select m.program_id, a.email from membership m join account a using (account_id)
    where a.email like '%@bench.example' order by md5(a.email) limit $1" >"$PLACE/directors"
  while read -r school email; do
    cookie=$(signed_in "$email")
    psql "$DATABASE_URL" -c "select class_id || ' $cookie ' || string_agg(child_id::text, ',') from child
      where program_id = '$school' group by class_id"
  done <"$PLACE/directors"
}
