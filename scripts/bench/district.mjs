// A roster of a whole district while a class is at work: how long it takes, how much memory the server takes for it, and how much
// slower the room is answered meanwhile, beside the room alone before and after (the difference is the noise).
// Usage: district.mjs URL CLASS PID FOLDER; the session is in COOKIE.
import { readFileSync } from 'node:fs';

const [, , url, klass, pid, folder] = process.argv;
const headers = { cookie: process.env.COOKIE };
const CLIENTS = 4;

const memory = (key) => Number(readFileSync(`/proc/${pid}/status`, 'utf8').match(new RegExp(`${key}:\\s+(\\d+)`))[1]) / 1024;

/** The median of the room's answers until `ends` is done, in ms; one client after the other waits as people do. */
async function room(ends) {
  let open = true;
  void ends.finally(() => (open = false));
  const times = [];
  await Promise.all(
    Array.from({ length: CLIENTS }, async () => {
      while (open) {
        const begun = performance.now();
        const answer = await fetch(`${url}/api/classes/${klass}/room`, { headers });
        if (!answer.ok) throw new Error(`the room was not answered: ${answer.status}`);
        await answer.arrayBuffer();
        times.push(performance.now() - begun);
      }
    }),
  );
  times.sort((one, other) => one - other);
  return { median: times[times.length >> 1], late: times[Math.floor(times.length * 0.95)] };
}

const seconds = (many) => new Promise((done) => setTimeout(done, many * 1000));

async function look(file, query) {
  const begun = performance.now();
  const answer = await fetch(`${url}/api/classes/${klass}/roster/import?${new URLSearchParams(query)}`, {
    method: 'POST',
    headers: { ...headers, 'content-type': 'application/octet-stream', accept: 'application/x-ndjson' },
    body: file,
  });
  const lines = (await answer.text()).trim().split('\n');
  const last = JSON.parse(lines.at(-1));
  if (last.status !== 200) throw new Error(`the roster was not read: ${JSON.stringify(last.answer)}`);
  return { last: last.answer, time: (performance.now() - begun) / 1000, lines: lines.length };
}

for (const name of ['district.csv', 'district.zip']) {
  const file = readFileSync(`${folder}/${name}`);
  const before = await room(seconds(4));
  const rest = memory('VmRSS');
  let looked;
  const meanwhile = await room(
    (async () => {
      const all = await look(file, {});
      if (all.last.groups.length < 8000) throw new Error(`${all.last.groups.length} groups`);
      looked = await look(file, { groups: JSON.stringify(['Beginning Strings 7']) });
      if (looked.last.rows.length !== 25) throw new Error(`${looked.last.rows.length} rows`);
    })(),
  );
  const highest = memory('VmHWM');
  const after = await room(seconds(4));
  const alone = (before.median + after.median) / 2;
  const slower = meanwhile.median / alone;
  console.log(
    `${name} (${(file.length / 1024 / 1024).toFixed(0)} MB, 200,000 children): ${looked.time.toFixed(1)} s, ${looked.lines} lines; server ${highest.toFixed(0)} MB at its highest, ` +
      `${rest.toFixed(0)} before (aim: below 300); room meanwhile ${meanwhile.median.toFixed(1)} ms (95 %: ${meanwhile.late.toFixed(1)}), ` +
      `alone ${alone.toFixed(1)} (${before.median.toFixed(1)} and ${after.median.toFixed(1)}); ratio ${slower.toFixed(2)} (aim: at most 1.5)`,
  );
  if (highest > 300 || slower > 1.5) process.exitCode = 1;
}
