import { readdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { type KernelFiles, kernelTree, PACKAGE_AND_CORES } from './kernelTrees.ts';

/** A reading of the counter is late by up to one tick, so a tick is short beside the time between two readings. */
const TICK_MS = 10;
const LOOK_MS = 200;
/** Whatever else this machine does takes processor time from the load: what the load adds is small beside what the machine takes anyway. */
const IDLE_W = 15;
const FULL_W = 140;
const RANGE_UJ = 262_143_328_850;

/** A machine whose kernel's files follow what a process computes: its power by the processor time, its temperature by the power. */
export class FakeMachine {
  readonly root = kernelTree({ ...PACKAGE_AND_CORES, 'sys/class/powercap/zone:0/energy_uj': 0 } satisfies KernelFiles);
  private energy_j = 262_000;
  private temperature = 24;
  /** what other programs add, W */
  others_w = 0;
  private readonly looks: { cpu_s: number; at_ms: number }[] = [];
  private last_ms = performance.now();
  private readonly timer: NodeJS.Timeout;

  /**
   * @param pid the process that heats it
   * @param k_per_w from its power to its temperature over 22 °C, and s that it takes
   */
  constructor(
    public pid: number,
    public k_per_w = 0.15,
    private readonly tau_s = 5,
  ) {
    this.timer = setInterval(() => this.tick(), TICK_MS);
  }

  stop(): void {
    clearInterval(this.timer);
  }

  private tick(): void {
    const cpu_s = cpuOf(this.pid);
    if (Number.isNaN(cpu_s)) return;
    const at_ms = performance.now();
    const dt = (at_ms - this.last_ms) / 1000;
    this.last_ms = at_ms;
    this.looks.push({ cpu_s, at_ms });
    // a turn of the load is shorter than a look
    while (this.looks.length > 1 && at_ms - this.looks[0].at_ms > LOOK_MS) this.looks.shift();
    const [first] = this.looks;
    const share = at_ms > first.at_ms ? (1000 * Math.max(0, cpu_s - first.cpu_s)) / (at_ms - first.at_ms) / os.availableParallelism() : 0;
    const power = IDLE_W + this.others_w + FULL_W * Math.min(1, share);
    this.energy_j += power * dt;
    this.temperature += (1 - Math.exp(-dt / this.tau_s)) * (22 + this.k_per_w * power - this.temperature);
    this.write('sys/class/powercap/zone:0/energy_uj', Math.round(1e6 * this.energy_j) % RANGE_UJ);
    this.write('sys/class/hwmon/hwmon0/temp1_input', 10 * Math.round(100 * (this.temperature + 0.02 * Math.sin(at_ms))));
  }

  /** Whole, as the kernel's files are. */
  private write(file: string, value: number): void {
    const at = path.join(this.root, file);
    writeFileSync(`${at}.part`, `${value}\n`);
    renameSync(`${at}.part`, at);
  }
}

/** Processor time of the threads that a process has, s, to the nanosecond. */
function cpuOf(pid: number): number {
  try {
    const threads = readdirSync(`/proc/${pid}/task`).map((id) => readFileSync(`/proc/${pid}/task/${id}/schedstat`, 'utf8').split(' '));
    return threads.reduce((sum, [ran]) => sum + Number(ran), 0) / 1e9;
  } catch {
    // a thread that ended meanwhile
    return Number.NaN;
  }
}
