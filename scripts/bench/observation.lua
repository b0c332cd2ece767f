-- One observation a request: a fresh id, a child of the class, a checkpoint.
local threads = 0
function setup(thread) thread:set("number", threads); threads = threads + 1 end
local children, targets, count, stamp = {}, { "hold.size", "hold.rest", "hold.raise", "hold.contact", "hold.free",
  "bow.pluck", "bow.thumb", "bow.alone", "bow.stroke", "frame.arm", "frame.thumb", "frame.square" }, 0, os.time()
function init(args)
  for line in io.lines(os.getenv("CHILDREN")) do children[#children + 1] = line end
  wrk.method = "POST"
  wrk.headers["Content-Type"] = "application/json"
  wrk.headers["Cookie"] = os.getenv("COOKIE")
end
function request()
  count = count + 1
  -- Each is seen after the one before, a thousandth of a second later.
  local now = os.date("!%Y-%m-%dT%H:%M:%S", stamp + math.floor(count / 1000)) .. string.format(".%03dZ", count % 1000)
  local id = string.format("%08x-%04x-7000-8%03x-%012x", stamp, number, number, count)
  local body = string.format('{"observations":[{"id":"%s","child":"%s","target":"%s","level":%d,"observedAt":"%s"}]}', id,
    children[(count * 7 + number * 31) % #children + 1], targets[count % #targets + 1], count % 5, now)
  return wrk.format(nil, nil, nil, body)
end
function response(status, _, body)
  if status ~= 200 or not body:find('"stored"', 1, true) then io.stderr:write("not stored: " .. status .. " " .. body .. "\n"); os.exit(1) end
end
function done(summary, latency)
  io.write(string.format("RESULT %d %.1f %d\n", latency:percentile(50), summary.requests / (summary.duration / 1e6), summary.errors.status))
end
