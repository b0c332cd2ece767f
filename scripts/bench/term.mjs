// How long the term of a class takes, one request after the other: the median of 21 and the slowest, beside the statement that reads
// the observations, run by itself as the database times it. Usage: term.mjs URL CLASS SQL_MS; the session is in COOKIE.
const [, , url, klass, sql] = process.argv;
const times = [];
let bytes = 0;
for (let turn = 0; turn < 22; turn += 1) {
  const begun = performance.now();
  const answer = await fetch(`${url}/api/classes/${klass}/term`, { headers: { cookie: process.env.COOKIE } });
  if (!answer.ok) throw new Error(`the term was not answered: ${answer.status}`);
  bytes = (await answer.arrayBuffer()).byteLength;
  // The first one warms what is kept between requests.
  if (turn > 0) times.push(performance.now() - begun);
}
times.sort((one, other) => one - other);
const median = times[10];
console.log(
  `GET term     median ${median.toFixed(0)} ms, slowest ${times.at(-1).toFixed(0)} ms, ${(bytes / 1024).toFixed(0)} kB (aim: at most 150 ms); ` +
    `its largest statement alone ${Number(sql).toFixed(0)} ms; ratio ${(median / Number(sql)).toFixed(1)}`,
);
if (median > 150) process.exitCode = 1;
