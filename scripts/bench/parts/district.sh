# A roster of a whole district, read while a class is at work.
built
. scripts/bench/place.sh
cluster
class_of_60
serve
sign_in
mkdir "$PLACE/district"
"$TARGET/release/examples/bench_district" "$PLACE/district"
node scripts/bench/district.mjs "$url" "$class" "$server" "$PLACE/district" || missed=1
