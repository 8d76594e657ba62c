// Packs what browsers load beside itself, once, as small as it goes: who asks for it packed is sent that (see door.ts).
import { readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { brotliCompressSync, constants, gzipSync } from 'node:zlib';

/** Below this a packed file saves nothing. */
const LEAST_BYTES = 1024;

export function packAssets(folder) {
  for (const name of readdirSync(folder).filter((own) => /\.(js|css|svg|json)$/.test(own))) {
    const path = join(folder, name);
    if (statSync(path).size < LEAST_BYTES) continue;
    const bytes = readFileSync(path);
    writeFileSync(`${path}.gz`, gzipSync(bytes, { level: 9 }));
    writeFileSync(`${path}.br`, brotliCompressSync(bytes, { params: { [constants.BROTLI_PARAM_SIZE_HINT]: bytes.length } }));
  }
}
