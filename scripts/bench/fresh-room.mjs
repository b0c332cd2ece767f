// The room right after something was observed in it: nothing that was kept is of use. One client; prints the median in microseconds.
// Usage: fresh-room.mjs URL CLASS; the session is in COOKIE, the children's ids in the file CHILDREN.
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';

const [, , url, klass] = process.argv;
const headers = { cookie: process.env.COOKIE, 'content-type': 'application/json' };
const children = readFileSync(process.env.CHILDREN, 'utf8').trim().split('\n');
const times = [];
for (let number = 0; number < 60; number += 1) {
  const observation = { id: randomUUID(), child: children[number % children.length], target: 'hold.size', level: number % 5, observedAt: new Date().toISOString() };
  const observed = await fetch(`${url}/api/classes/${klass}/observations`, { method: 'POST', headers, body: JSON.stringify({ observations: [observation] }) });
  if (!(await observed.text()).includes('"stored"')) throw new Error(`not stored: ${observed.status}`);
  const begun = performance.now();
  const room = await fetch(`${url}/api/classes/${klass}/room`, { headers });
  await room.arrayBuffer();
  if (!room.ok) throw new Error(`the room was not answered: ${room.status}`);
  times.push(performance.now() - begun);
}
times.sort((one, other) => one - other);
console.log(Math.round(times[times.length >> 1] * 1000));
