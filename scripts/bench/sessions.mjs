// Secrets of sessions, so many: of each the cookie's value and the hash that the database keeps it by. Usage: sessions.mjs MANY
import { createHash, randomBytes } from 'node:crypto';

for (let number = 0; number < Number(process.argv[2]); number += 1) {
  const id = randomBytes(16);
  const hash = createHash('sha256').update(Buffer.from(id).reverse()).digest('hex');
  console.log(`${id.toString('base64url')} ${hash}`);
}
