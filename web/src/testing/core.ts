import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { takeCore } from '../core/door';

// The core as the pages load it: ./test and ./start build it before the pages.
takeCore(new WebAssembly.Module(readFileSync(join(import.meta.dirname, '../core/bright_row.wasm'))));
