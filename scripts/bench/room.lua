function init(args) wrk.headers["Cookie"] = os.getenv("COOKIE") end
function done(summary, latency)
  io.write(string.format("RESULT %d %.1f %d\n", latency:percentile(50), summary.requests / (summary.duration / 1e6), summary.errors.status))
end
