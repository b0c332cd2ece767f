import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { takeCore, takeFigures } from '../core/door';

// The core as the pages load it: ./test and ./start build it before the pages.
const file = (name: string) =>
  new WebAssembly.Module(readFileSync(join(import.meta.dirname, '../core', name)));
takeCore(file('bright_row.wasm'));
takeFigures(file('figures.wasm'));
