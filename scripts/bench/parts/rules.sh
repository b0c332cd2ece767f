# The rules by themselves (criterion).
built
cargo bench --locked --quiet --workspace --bench standings --bench round --bench set_up --bench layout --bench figures --bench listening --bench tables --bench templates --bench cards -- --noplot 2>/dev/null |
  grep -E "time:" -B1 | grep -v "^--" | sed 's/^ *//'
