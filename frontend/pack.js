/** Packs what was built, once and hard, so that the server need not pack it for everybody. */
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { brotliCompressSync, gzipSync } from 'node:zlib'

const assets = join(import.meta.dirname, '..', 'lift_crate', 'web', 'static', 'assets')
for (const name of readdirSync(assets).filter((file) => /\.(js|css)$/.test(file))) {
  const content = readFileSync(join(assets, name))
  writeFileSync(join(assets, `${name}.br`), brotliCompressSync(content))
  writeFileSync(join(assets, `${name}.gz`), gzipSync(content, { level: 9 }))
}
