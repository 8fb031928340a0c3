import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { appendFileSync, existsSync, mkdirSync, readFileSync } from 'node:fs';
import type { Judge, Tally } from './tally';

type Part = Record<Judge, Tally>;

const READ = ['src/core', 'src/simulator', 'benchmarks/calibrate', 'package-lock.json'];
const git = (...args: string[]) => execFileSync('git', args, { encoding: 'utf8' }).trim();

/** What was counted before by the very same code, so that a long run that was ended goes on where it was. */
export class Kept {
  private readonly file: string | null;
  private readonly parts = new Map<string, Part>();

  constructor() {
    const changed = git('status', '--porcelain', '--', ...READ) !== '';
    const trees = READ.map((path) => git('rev-parse', `HEAD:${path}`)).join();
    this.file = changed ? null : `.calibrate/${createHash('sha256').update(trees).digest('hex').slice(0, 16)}.jsonl`;
    if (!this.file || !existsSync(this.file)) return;
    for (const line of readFileSync(this.file, 'utf8').split('\n').filter(Boolean)) {
      const { job, part } = JSON.parse(line) as { job: string; part: Part };
      this.parts.set(job, part);
    }
  }

  get(job: unknown): Part | undefined {
    return this.parts.get(JSON.stringify(job));
  }

  /** Keeps a part; nothing is kept of code that is not committed. */
  add(job: unknown, part: Part): void {
    if (!this.file) return;
    mkdirSync('.calibrate', { recursive: true });
    appendFileSync(this.file, `${JSON.stringify({ job: JSON.stringify(job), part })}\n`);
  }
}
