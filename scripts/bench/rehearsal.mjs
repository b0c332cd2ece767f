// Plays invented classes by every policy and prints what each came to, as ratios against the other policies of the same run.
// node scripts/bench/rehearsal.mjs <binary> [runs]
import { execFileSync } from 'node:child_process';

const [binary, runs = '4'] = process.argv.slice(2);
const number = (value, digits) => value.toFixed(digits).padStart(7);
console.log('children minutes base | end  /rows /limit | delay  /rows | due again  late  longest wait  seconds');
for (const children of ['36', '60'])
  for (const minutes of ['8', '12', '20'])
    for (const base of ['0.1', '0.25']) {
      const words = ['rehearse', '--json', '--children', children, '--minutes', minutes, '--base', base, '--runs', runs];
      const lines = execFileSync(binary, words, { encoding: 'utf8' }).trim().split('\n');
      const [next, rows, limit] = lines.map((line) => JSON.parse(line));
      console.log(
        `${children.padStart(8)}${minutes.padStart(8)}${base.padStart(5)} |${number(next.end, 2)}${number(next.end / rows.end, 2)}` +
          `${number(next.end / limit.end, 2)} |${number(next.delayMean, 2)}${number(next.delayMean / rows.delayMean, 2)} |` +
          `${number(next.dueShare, 2)}${number(next.late, 1)}${number(next.longestWait, 1)}${number(next.seconds, 0)}`,
      );
    }

console.log('\nbands of eight in ten | children minutes after |  bands   held before  after  width');
for (const [children, minutes, after] of [
  ['36', '12', '15'],
  ['36', '20', '15'],
  ['60', '12', '20'],
]) {
  const words = ['rehearse', '--json', '--children', children, '--minutes', minutes, '--base', '0.18', '--runs', runs];
  const line = execFileSync(binary, [...words, '--forecast-after', after], { encoding: 'utf8' });
  const { bands, inside, before, after: late, width } = JSON.parse(line);
  const where = `${children.padStart(8)}${minutes.padStart(8)}${after.padStart(6)}`;
  const shares = [inside, before, late].map((share) => number(share, 2)).join('');
  console.log(`${' '.repeat(21)} |${where} |${number(bands, 0)}${shares}${number(width, 1)}`);
}
