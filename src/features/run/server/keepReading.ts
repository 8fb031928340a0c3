import { createHash, type Hash } from 'node:crypto';
import type { Client } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { MAX_RUN_FILES } from '#core/signal/logs/decode';
import type { LogOptions } from '#core/signal/logs/types';
import type { ReduceOptions, Reduction } from '#core/signal/reduce/types';
import { insertLogFile, insertPiece, reserveLogFile } from '#features/run/store/logFiles';
import { findRunByFile } from '#features/run/store/runs';
import { insertAxes, insertChannels } from '#features/run/store/traces';
import { binnedByFile } from '#features/study/store/bin';
import { describeRun } from './runView';
import { type LogSource, streamReduction } from './streamReduction';

/** A log file that was kept, by its hash. */
export interface HashedFile {
  name: string;
  hash: Buffer;
}

interface ReadingOfFiles {
  reading: LogOptions;
  options: Partial<ReduceOptions>;
  /** seconds added to the times of each further file */
  offsets: Record<string, number>;
  sources: AsyncIterable<LogSource> | Iterable<LogSource>;
  signal?: AbortSignal;
  /** told the first file as soon as it is kept */
  onFirst?: (file: HashedFile) => void;
}

/** What the files of a run gave. */
interface KeptReading {
  reduction: Reduction;
  /** as the first log tells it, s since 1970; null where it tells none */
  start_epoch_s: number | null;
  zoned: boolean;
  /** in their order */
  files: HashedFile[];
}

/**
 * Keeps the files of a run while their bytes come, reads them, and stores the channels; the run's own row follows in the same transaction.
 * @throws Refusal where they cannot be read, or carry a run already
 */
export async function keepReading(client: Client, runId: number, asked: ReadingOfFiles): Promise<KeptReading> {
  const { reading, options, offsets, sources, signal, onFirst = () => {} } = asked;
  const keeper = new FileKeeper(client, onFirst);
  let storing: Promise<void> = Promise.resolve();
  const outcome = await streamReduction({
    ...{ reading, options, offsets, sources: keeper.begun(sources), signal },
    onPiece: (bytes) => keeper.keep(bytes),
    onFile: (source) => keeper.close(source.name),
    onTrace: (axes, channels) => {
      // the rise, which is known last, stands first
      storing = insertAxes(client, runId, axes).then(() => insertChannels(client, runId, 1, channels));
      // whoever awaits it later is told; until then it is no unheard failure
      storing.catch(() => {});
    },
  });
  const { files } = keeper;
  if (!outcome.ok) throw new Refusal(outcome.problem);
  if (files.length === 0) throw new Refusal(`A run has 1 to ${MAX_RUN_FILES} log files; none was sent.`);
  await storing;
  signal?.throwIfAborted();
  if (outcome.rise) await insertChannels(client, runId, 0, [outcome.rise]);
  return { reduction: outcome.reduction, start_epoch_s: outcome.start_epoch_s, zoned: outcome.zoned, files };
}

/** Keeps the bytes of the files as they come, and refuses a file that carries a run already or comes twice. */
class FileKeeper {
  readonly files: HashedFile[] = [];
  private id = 0;
  private pieces = 0;
  private hash: Hash = createHash('sha256');

  constructor(
    private readonly client: Client,
    private readonly onFirst: (file: HashedFile) => void,
  ) {}

  async *begun(sources: AsyncIterable<LogSource> | Iterable<LogSource>): AsyncGenerator<LogSource> {
    for await (const source of sources) {
      if (this.files.length === MAX_RUN_FILES) throw new Refusal(`A run has 1 to ${MAX_RUN_FILES} log files; more were sent.`);
      this.id = await reserveLogFile(this.client);
      this.pieces = 0;
      this.hash = createHash('sha256');
      yield source;
    }
  }

  async keep(bytes: Buffer): Promise<void> {
    this.hash.update(bytes);
    await insertPiece(this.client, this.id, this.pieces++, bytes);
  }

  async close(name: string): Promise<void> {
    const file = { name, hash: this.hash.digest() };
    if (this.files.some((f) => f.hash.equals(file.hash))) throw new Refusal('The same file was given twice for this run.', 409);
    if (this.files.length === 0) {
      await refuseDuplicate(this.client, name, file.hash);
      this.onFirst(file);
    }
    await insertLogFile(this.client, this.id, file.hash, name);
    this.files.push(file);
  }
}

/** Refuses a file that carries a run already, or one in the bin. */
export async function refuseDuplicate(db: Client, name: string, hash: Buffer): Promise<void> {
  const known = await findRunByFile(db, hash);
  if (known)
    throw new Refusal(`${name} is already imported: it is ${describeRun(known)}. A log counts once; nothing was stored.`, 409, {
      run_id: known.id,
    });
  const binned = await binnedByFile(db, hash);
  if (binned)
    throw new Refusal(
      `${name} belongs to a run in the bin, ${binned.title}. Restore it there, or delete it for good, then store the file.`,
      409,
      {
        bin: binned.bin,
      },
    );
}
