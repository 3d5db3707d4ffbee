// Lays compressed copies beside the files of the built page; the server sends those.
import { readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { brotliCompress, constants, gzip } from 'node:zlib';

const WORTH_IT = /\.(js|css|html|svg|json|ttf)$/;

/** Makes a .br and a .gz of each file of text in a folder and its folders. */
export async function compressFiles(folder) {
  await Promise.all(
    readdirSync(folder).map(async (name) => {
      const path = join(folder, name);
      if (statSync(path).isDirectory()) return compressFiles(path);
      if (!WORTH_IT.test(name)) return;
      const bytes = readFileSync(path);
      const params = { [constants.BROTLI_PARAM_SIZE_HINT]: bytes.length };
      writeFileSync(`${path}.br`, await promisify(brotliCompress)(bytes, { params }));
      writeFileSync(`${path}.gz`, await promisify(gzip)(bytes, { level: 9 }));
    }),
  );
}
