// Asks every operation of docs/openapi.json with made-up values, good and bad, by schemathesis, and counts what is answered.
// node fuzz.mjs SCHEMATHESIS URL DATABASE SCRATCH SECONDS; exits with 1 where an aim is missed.
import { execFileSync, spawnSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const [schemathesis, url, database, scratch, seconds] = process.argv.slice(2);
const document = 'docs/openapi.json';
/** At least so many of a hundred operations are to answer with success at least once. */
const REACHED = 80;

const json = { 'content-type': 'application/json', connection: 'close' };

async function signIn() {
  const answer = await fetch(`${url}/api/session`, {
    method: 'POST',
    headers: json,
    body: JSON.stringify({ email: 'director@demo.example', password: 'bright-row-demo' }),
  });
  if (!answer.ok) throw new Error(`Signing in was answered with ${String(answer.status)}.`);
  return answer.headers.getSetCookie().map((cookie) => cookie.split(';')[0]).join('; ');
}

const { hostname, port, username, password, pathname } = new URL(database);
const [PGHOST, PGPORT, PGUSER, PGPASSWORD, PGDATABASE] = [hostname, port, username, password, pathname.slice(1)];
const env = { ...process.env, PGHOST, PGPORT, PGUSER, PGPASSWORD, PGDATABASE };
const one = (sql) => execFileSync('psql', ['-qAt', '-c', sql], { env }).toString().trim();

/** What is there stands in for ids, so that more than "no such class" is answered. */
const klass = one('select class_id from child where left_on is null group by 1 order by count(*) desc, 1 limit 1');
const inClass = (column, table) => one(`select ${column} from ${table} where class_id = '${klass}' order by 1 limit 1`);
const ids = {
  class: klass,
  program: one('select program_id from class limit 1'),
  child: one(`select child_id from child where class_id = '${klass}' and left_on is null order by 1 limit 1`),
  asset: one('select asset_id from asset order by 1 limit 1'),
  observation: inClass('observation_id', 'observation'),
  checkpoint: one('select checkpoint_id from standing order by 1 limit 1'),
  account: one("select account_id from membership where role = 'assistant' limit 1"),
};
/** An invitation and a device that are there to be ended. */
const cookie = await signIn();
const invitation = await fetch(`${url}/api/programs/${ids.program}/invitations`, {
  method: 'POST',
  headers: { ...json, cookie },
  body: JSON.stringify({ role: 'assistant', classes: [klass] }),
}).then((answer) => answer.json());
await signIn();
const account = await fetch(`${url}/api/account`, { headers: { ...json, cookie } }).then((answer) => answer.json());
ids.invitation = invitation.id;
ids.device = account.devices.find((one) => !one.this).id;
ids.stage = 'bow.4';
ids.day = one(`select to_char(d, 'YYYY-MM-DD') from class c, generate_series(current_date + 1, current_date + 14, interval '1 day') d
  where c.class_id = '${klass}' and extract(isodow from d) = any(c.weekdays)
    and d not in (select day from day_off o where o.class_id = c.class_id) limit 1`);
const parameters = Object.entries(ids).map(([name, id]) => `"path.${name}" = ${JSON.stringify(id)}\n`);
writeFileSync(join(scratch, 'schemathesis.toml'), `[parameters]\n"header.If-Match" = "*"\n${parameters.join('')}`);

/** One run over some of the operations; what was sent and answered is appended to `answered`. */
async function run(name, some, time, answered) {
  const report = join(scratch, `${name}.ndjson`);
  const done = spawnSync(
    schemathesis,
    ['--config-file', join(scratch, 'schemathesis.toml'), 'run', document, '--url', url, ...some]
      .concat(['-H', `Cookie: ${await signIn()}`, '--checks', 'not_a_server_error,status_code_conformance'])
      .concat(['--phases', 'examples,coverage,fuzzing', '--max-time', String(time), '--workers', '2', '--max-failures', '200'])
      .concat(['--continue-on-failure', '--no-shrink', '--generation-database', 'none', '--request-timeout', '20', '--no-color'])
      .concat(['--report', 'ndjson', '--report-ndjson-path', report, '--seed', '7', '--suppress-health-check', 'all']),
    { encoding: 'utf8', maxBuffer: 1 << 28, timeout: (time + 120) * 1000 },
  );
  writeFileSync(join(scratch, `${name}.txt`), `${done.stdout}\n${done.stderr}`);
  for (const line of readFileSync(report, 'utf8').split('\n').filter(Boolean)) {
    for (const interaction of interactions(JSON.parse(line))) answered(interaction);
  }
}

/** Every request with its answer that an event of the report tells of, wherever in it. */
function* interactions(value) {
  if (value === null || typeof value !== 'object') return;
  if (value.request?.method && 'response' in value) {
    yield value;
    return;
  }
  for (const inner of Object.values(value)) yield* interactions(inner);
}

const { paths } = JSON.parse(readFileSync(document, 'utf8'));
const operations = Object.entries(paths).flatMap(([path, methods]) =>
  Object.entries(methods).map(([method, operation]) => ({
    name: `${method.toUpperCase()} ${path}`,
    method: method.toUpperCase(),
    path,
    pattern: new RegExp(`^${path.replaceAll(/\{[^}]+\}/g, '[^/]+').replaceAll('.', '\\.')}$`),
    literal: path.split('/').filter((part) => part && !part.startsWith('{')).length,
    statuses: new Set(Object.keys(operation.responses)),
    met: new Map(),
  })),
);
// The more of a path is written out, the sooner it is meant.
operations.sort((a, b) => b.literal - a.literal);
const strange = new Map();
let requests = 0;
let unanswered = 0;
function count({ request, response }) {
  requests += 1;
  if (!response) {
    unanswered += 1;
    return;
  }
  const status = String(response.status_code ?? response.status?.code ?? response.status);
  const url = new URL(request.uri ?? request.url).pathname;
  const path = operations.find((one) => one.pattern.test(url))?.path;
  const operation = operations.find((one) => one.path === path && one.method === request.method.toUpperCase());
  // A method that a path does not have is answered with 405, which no operation documents.
  if (!operation) {
    if (Number(status) >= 500) strange.set(`${status} ${request.method} ${url}`, 1);
    return;
  }
  operation.met.set(status, (operation.met.get(status) ?? 0) + 1);
  if (Number(status) >= 500 && status !== '503') strange.set(`${status} ${operation.name}`, (strange.get(`${status} ${operation.name}`) ?? 0) + 1);
  else if (!operation.statuses.has(status)) strange.set(`undocumented ${status} ${operation.name}`, (strange.get(`undocumented ${status} ${operation.name}`) ?? 0) + 1);
}

// Whoever has signed out, or come in as somebody else, or has to have a second factor from then on, reaches nothing more: those
// operations come last, each after signing in anew.
const last = ['DELETE /api/session', 'POST /api/links/invitation', 'POST /api/session', 'PUT /api/programs/{program}/keeping'];
const ending = ['POST /api/classes/{class}/end', 'POST /api/programs/{program}/end', 'POST /api/classes/{class}/archive'];
const named = (names) => names.flatMap((name) => ['--include-name', name]);
const without = (names) => names.flatMap((name) => ['--exclude-name', name]);
await run('all', without([...last, ...ending]), Number(seconds) - 60, count);
await run('ending', named(ending), 20, count);
for (const [number, name] of last.entries()) await run(`last-${String(number)}`, named([name]), 10, count);

const reached = operations.filter((one) => [...one.met.keys()].some((status) => status.startsWith('2')));
const share = (100 * reached.length) / operations.length;
const silent = operations.filter((one) => one.met.size === 0).map((one) => one.name);
console.log(`Requests ${String(requests)}; without an answer ${String(unanswered)}; operations ${String(operations.length)}`);
console.log(`Reaching 2xx: ${String(reached.length)} of ${String(operations.length)}, ${share.toFixed(0)} of 100 (aim: at least ${String(REACHED)})`);
console.log(`Answers 5xx or undocumented: ${String(strange.size)} (aim: none)`);
for (const [what, times] of strange) console.log(`  ${what}: ${String(times)} times`);
if (silent.length > 0) console.log(`Not asked: ${silent.join(', ')}`);
const never = operations.filter((one) => !reached.includes(one) && one.met.size > 0);
if (never.length > 0) console.log('Never 2xx:');
for (const one of never) console.log(`  ${one.name}: ${[...one.met].map(([status, times]) => `${status} (${String(times)})`).join(', ')}`);
process.exit(strange.size > 0 || unanswered > 0 || share < REACHED || silent.length > 0 ? 1 : 0);
