// The environment in which the application gives memory back that a large import took; printed as NAME=VALUE lines for the launcher
import { existsSync, readdirSync } from 'node:fs';
import path from 'node:path';
import { argv } from 'node:process';

/** Where Debian puts the libraries of a processor: /usr/lib/x86_64-linux-gnu and its like. */
const LIBRARIES = '/usr/lib';

/**
 * jemalloc where Debian's libjemalloc2 is there: its pages go back a second after they were freed. The C library's own allocator keeps what
 * lies between pieces that are still in use, about 100 MB after some imports of a million rows; it is bound as tight as it can be.
 * @returns {Record<string, string>} variables for the process that is started
 */
export function allocator() {
  const library = readdirSync(LIBRARIES)
    .map((folder) => path.join(LIBRARIES, folder, 'libjemalloc.so.2'))
    .find((file) => existsSync(file));
  return library
    ? { LD_PRELOAD: library, MALLOC_CONF: 'background_thread:true,dirty_decay_ms:1000,muzzy_decay_ms:0' }
    : { MALLOC_ARENA_MAX: '2', MALLOC_MMAP_THRESHOLD_: '262144', MALLOC_TRIM_THRESHOLD_: '262144' };
}

if (argv[1] === import.meta.filename) for (const [name, value] of Object.entries(allocator())) console.log(`${name}=${value}`);
