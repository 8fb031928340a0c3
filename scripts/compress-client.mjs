// What the browser loads, compressed once at the build: each script and style beside itself as .br, which the server sends where it is
// taken.
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { brotliCompressSync } from 'node:zlib';

const root = 'dist/client';
for (const file of readdirSync(root, { recursive: true }).map(String)) {
  if (!/\.(js|css|svg)$/.test(file)) continue;
  const bytes = readFileSync(path.join(root, file));
  if (bytes.length > 500) writeFileSync(path.join(root, `${file}.br`), brotliCompressSync(bytes));
}
