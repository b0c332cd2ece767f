// The script that a browser loads before the Room can be used: what index.html names, and what that imports at once. Beside it
// the core, which the first picture does not wait for.
import { readFileSync, readdirSync } from 'node:fs';
import { gzipSync } from 'node:zlib';

const dist = new URL('../../web/dist/', import.meta.url);
const named = /(?:src|href)="\/(assets\/[^"]+\.js)"/g;
const imported = /(?:import|from)\s*"\.\/([^"]+\.js)"/g;
const all = new Set([...readFileSync(new URL('index.html', dist), 'utf8').matchAll(named)].map((found) => found[1]));
for (const file of all) {
  const text = readFileSync(new URL(file, dist), 'utf8');
  for (const [, next] of text.matchAll(imported)) all.add(`assets/${next}`);
}
const bytes = [...all].map((file) => gzipSync(readFileSync(new URL(file, dist))).length);
const kilobytes = bytes.reduce((sum, size) => sum + size, 0) / 1000;
console.log(`${kilobytes.toFixed(0)} kB gzipped in ${all.size} files (aim: at most 300 kB)`);
const files = readdirSync(new URL('assets/', dist)).filter((file) => file.endsWith('.wasm'));
const large = (name) => {
  const [file, ...others] = files.filter((one) => one.startsWith(name));
  if (!file || others.length > 0) throw new Error(`there is one ${name}.wasm`);
  return gzipSync(readFileSync(new URL(`assets/${file}`, dist))).length / 1000;
};
const [rules, figures, listening] = [large('bright_row'), large('figures'), large('listening')];
console.log(`the core: ${rules.toFixed(0)} kB gzipped as WebAssembly (aim: at most 250 kB)`);
console.log(`the drawings: ${figures.toFixed(0)} kB gzipped, fetched where something is drawn first (aim: at most 120 kB)`);
console.log(`listening: ${listening.toFixed(0)} kB gzipped, fetched where somebody listens (aim: at most 60 kB)`);
if (kilobytes > 300 || rules > 250 || figures > 120 || listening > 60) process.exitCode = 1;
