-- Requests of many classes: CLASSES has a line for each, "class cookie child,child,...". With OBSERVE set each request is an
-- observation of one of the children, otherwise the class's room.
local threads = 0
function setup(thread) thread:set("number", threads); threads = threads + 1 end
local classes, count, stamp = {}, 0, os.time()
local targets = { "hold.size", "hold.rest", "hold.raise", "bow.thumb", "bow.alone", "frame.arm" }
local observe = os.getenv("OBSERVE")
function init(args)
  for line in io.lines(os.getenv("CLASSES")) do
    local class, cookie, list = line:match("(%S+) (%S+) (%S+)")
    local children = {}
    for child in list:gmatch("[^,]+") do children[#children + 1] = child end
    classes[#classes + 1] = { path = "/api/classes/" .. class, cookie = cookie, children = children }
  end
  now = os.date("!%Y-%m-%dT%H:%M:%SZ")
end
function request()
  count = count + 1
  local class = classes[(count * 13 + number * 7) % #classes + 1]
  if not observe then return wrk.format("GET", class.path .. "/room", { Cookie = class.cookie }) end
  local id = string.format("%08x-%04x-7000-8%03x-%012x", stamp, number, number, count)
  local child = class.children[(count * 7) % #class.children + 1]
  local body = string.format('{"observations":[{"id":"%s","child":"%s","target":"%s","level":%d,"observedAt":"%s"}]}', id, child,
    targets[count % #targets + 1], count % 5, now)
  return wrk.format("POST", class.path .. "/observations", { Cookie = class.cookie, ["Content-Type"] = "application/json" }, body)
end
function response(status, _, body)
  if status ~= 200 or (observe and not body:find('"stored"', 1, true)) then
    io.stderr:write("not answered: " .. status .. " " .. body:sub(1, 200) .. "\n"); os.exit(1)
  end
end
function done(summary, latency)
  io.write(string.format("RESULT %d %.1f %d\n", latency:percentile(50), summary.requests / (summary.duration / 1e6), summary.errors.status))
end
