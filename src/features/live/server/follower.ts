import { database, isDatabaseGone } from '#app/database/pool';
import { log } from '#app/log';
import { courseSoFar } from '#core/live/courseSoFar';
import { beginIdle, follow, holdRun, isLoaded, markEvent, resumeRun, stopRun } from '#core/live/follow';
import { LiveTrace } from '#core/live/liveTrace';
import { preflight } from '#core/live/preflight';
import type { LiveAction } from '#core/live/types';
import { type Alarm, isLost, watch } from '#core/live/watch';
import {
  acknowledgeAlarms,
  type Batch,
  countRefusal,
  endLive,
  getBatch,
  getLive,
  insertCycle,
  listBatches,
  listOrders,
  markObeyed,
  notifyLive,
  type OrderRow,
  type PlacedLive,
  type SourceState,
  type StoredForecast,
  saveLive,
  syncAlarms,
} from '#features/live/store/live';
import { isAsked, type LiveSource } from '#features/shelf/model/channelMap';
import { today } from '#features/shelf/server/sheets';
import { closeCycles } from './closeCycle';
import { FileCollector } from './fileCollector';
import { isOverLink, LinkCollector } from './linkCollector';
import { loadGuard } from './loadGuard';
import { type OffCommand, runKey } from './loadWatchFile';
import { type Collector, type Listener, type LiveReading, type RunClock, runClock } from './readings';
import { ReadingBuffer } from './store';
import { liveThreads } from './tasks';

const TICK_MS = 100;
/** Readings reach the machine a little later than they were taken: it follows at this distance behind the clock. */
const BEHIND_MS = 200;
/** Steps of the machine per second at most, however fast the bench. */
const MOST_STEPS = 20;
const FORECAST_MS = 1500;
/** Readings before a cycle's beginning that the machine may still look at, s. */
const LOOK_BACK_S = 400;
const SAVE_MS = 400;
const THINNED_S = 1;
/**
 * Seconds that a command takes to be seen: a reading is followed late, the command waits for the instrument, its effect for the next
 * reading.
 */
const COMMAND_LAG_S = 1.5;
/** A store that stays away longer than this leaves a load on that nobody keeps the readings of, ms. */
const STORE_AWAY_MS = 30_000;
/** How often it is looked whether the load watch has cut the load, ms. */
const CUT_LOOK_MS = 1000;
/** Longest wait for a command to be heard when the application ends, ms. */
const SENT_MS = 3000;
/** The load was switched off and the power shows it for so long before it counts as off, s of the bench. */
const OFF_S = 5;
/** PostgreSQL's code for a row that refers to one that is not there. */
const FOREIGN_KEY = '23503';

/**
 * Follows one live run: reads its sources, keeps their readings, lets the machine go on, raises alarms, switches the load and closes the
 * cycles.
 */
export class Follower {
  private trace: LiveTrace;
  private readonly clock: RunClock;
  private readonly collectors = new Map<string, Collector>();
  /** names the run beside the store */
  private readonly run: string;
  private readonly buffers = new Map<string, ReadingBuffer>();
  private readonly health: Record<string, SourceState>;
  private readonly refusals = new Map<string, { source: string; code: string; message: string; count: number }>();
  private forecast: StoredForecast | null;
  private forecasting = false;
  private forecastAt = 0;
  private savedAt = 0;
  private alarmCodes = '';
  private cut = new Set<string>();
  /** codes of the alarms that are on */
  private lasting: ReadonlySet<string> = new Set();
  /** sources that are cut off, and since when */
  private readonly down = new Map<string, number>();
  private timer: NodeJS.Timeout | null = null;
  private busy: Promise<void> | null = null;
  private stopped = false;
  /** while it is not certain that this process alone follows the run, nothing is stored; the bench is watched all the same */
  private paused = false;
  private pausedAt = 0;
  private cutLookedAt = 0;
  /** since when an armed load is seen to be off, ms */
  private offSince = 0;
  private ordered = true;
  private unread: number[] = [];
  private failure = '';

  private constructor(private readonly live: PlacedLive) {
    this.run = runKey(live);
    this.clock = runClock(live.started_at, live.time_scale);
    this.forecast = live.forecast;
    this.health = { ...live.health };
    // live.settings is this process's copy; how late a command shows depends on the bench's speed
    live.settings = { ...live.settings, lag_s: COMMAND_LAG_S * live.time_scale };
    const channels = live.sources.flatMap((s) =>
      s.channels.map(({ name, role, unit }) => ({
        ...{ name, role, unit, source: s.name },
        period_s: Math.max(s.period_s, (TICK_MS / 1000) * live.time_scale),
      })),
    );
    this.trace = new LiveTrace(channels);
    for (const source of live.sources) this.attach(source);
  }

  /** Takes up a live run where the store says that it stands. */
  static async take(id: number): Promise<Follower | null> {
    const live = await getLive(database(), id);
    if (!live || live.ended_at) return null;
    const follower = new Follower(live);
    for (const batch of await listBatches(database(), id, live.state.cycle_from_s - LOOK_BACK_S)) follower.feed(batch);
    for (const buffer of follower.buffers.values()) for (const reading of await buffer.recall()) follower.trail(reading);
    follower.lookForCut();
    if (follower.mayHeat()) follower.armLoad();
    for (const c of follower.collectors.values()) c.start();
    follower.timer = setInterval(() => follower.tick(), TICK_MS);
    return follower;
  }

  get id(): number {
    return this.live.id;
  }

  /** Another application has taken the run up, and its load with it. */
  forgetLoad(): void {
    loadGuard.disarm(this.run);
  }

  /** A batch that another process stored, or an order that a person gave. */
  hear(news: { batch?: number; order?: boolean }): void {
    if (news.batch !== undefined) this.unread.push(news.batch);
    if (news.order) this.ordered = true;
  }

  pause(): void {
    if (!this.paused) this.pausedAt = Date.now();
    this.paused = true;
  }

  /** Goes on after the store was away: what was pushed meanwhile is read, what was held is stored. */
  async resume(): Promise<void> {
    for (const batch of await listBatches(database(), this.id, this.live.state.t - LOOK_BACK_S))
      if (!this.buffers.has(batch.source)) this.feed(batch);
    this.ordered = true;
    this.paused = false;
  }

  /** @param others another application can take the run up, with its load as it is */
  async stop(others = false): Promise<void> {
    this.stopped = true;
    if (this.timer) clearInterval(this.timer);
    await this.busy;
    if (!others) await this.leaveLoad();
    for (const c of this.collectors.values()) c.stop();
    await Promise.all([...this.buffers.values()].map(async (b) => (await b.flush().catch(() => false)) || b.keepOutside().catch(() => {})));
  }

  private attach(source: LiveSource): void {
    this.health[source.name] ??= { connected: false, problem: null, newest_s: null, clock_offset_s: null };
    const buffer = new ReadingBuffer(
      this.live,
      source.name,
      source.channels.map((c) => c.name),
    );
    const listener: Listener = {
      onReading: (reading) => {
        buffer.add(reading);
        this.trail(reading);
        // an answer that holds no figure is no reading
        if ([...reading.values.values()].some((v) => !Number.isNaN(v))) this.heard(source.name, reading.t);
      },
      onState: (state) => Object.assign(this.health[source.name], state),
      onRefusal: (code, message) => {
        const key = `${source.name}\n${code}`;
        this.refusals.set(key, { source: source.name, code, message, count: (this.refusals.get(key)?.count ?? 0) + 1 });
      },
    };
    const { address } = source;
    if (address.kind === 'push') return;
    this.buffers.set(source.name, buffer);
    this.collectors.set(
      source.name,
      isOverLink(source)
        ? new LinkCollector(source, this.clock, listener)
        : new FileCollector(
            source as ConstructorParameters<typeof FileCollector>[0],
            this.clock,
            this.live.started_at.getTime() / 1000,
            listener,
          ),
    );
  }

  private trail({ t, values }: LiveReading): void {
    for (const [name, value] of values) this.trace.append(name, t, value);
  }

  private heard(source: string, t: number): void {
    const h = this.health[source];
    if (h.newest_s === null || t > h.newest_s) h.newest_s = t;
  }

  private feed(batch: Batch): void {
    for (const c of batch.channels) for (let i = 0; i < batch.t.length; i++) this.trace.append(c.name, batch.t[i], c.values[i]);
    this.heard(batch.source, batch.t[batch.t.length - 1]);
    const source = this.live.sources.find((s) => s.name === batch.source);
    if (source?.address.kind === 'push') Object.assign(this.health[batch.source], { connected: true, problem: null });
  }

  private tick(): void {
    if (this.busy || this.stopped) return;
    this.busy = this.work()
      .catch((error) => {
        // its row is gone, as by a deleted study
        if ((error as { code?: string }).code === FOREIGN_KEY) return this.leave();
        // a fault that comes back at every step is told once
        if (isDatabaseGone(error) || String(error) === this.failure) return;
        this.failure = String(error);
        log.error({ err: error, live: this.live.id }, 'a live run could not go on');
      })
      .finally(() => {
        this.busy = null;
      });
  }

  private async work(): Promise<void> {
    this.lookForCut();
    if (this.paused) {
      for (const action of this.advance()) this.act(action);
      this.judge();
      await Promise.all([...this.buffers.values()].map((b) => b.keepOutside()));
      if (loadGuard.isArmed(this.run) && !this.live.state.held && Date.now() - this.pausedAt > STORE_AWAY_MS)
        this.holdLoad(`The load was switched off because the store could not be reached for over ${STORE_AWAY_MS / 1000} s.`);
      return;
    }
    for (const id of this.unread.splice(0)) {
      const batch = await getBatch(database(), id);
      const own = batch && this.buffers.has(batch.source);
      if (batch && !own) this.feed(batch);
    }
    await Promise.all([...this.buffers.values()].map((b) => b.flush()));
    if (this.ordered) await this.obeyOrders();
    const before = this.live.state;
    const actions = this.advance();
    for (const action of actions) this.act(action);
    await this.raise(this.judge());
    if (this.live.state.closed.length > before.closed.length)
      for (const c of this.live.state.closed) await insertCycle(database(), this.live.id, c);
    await this.countRefusals();
    const staged = before.stage !== this.live.state.stage;
    if (staged || Date.now() - this.savedAt > SAVE_MS) await this.save();
    if (staged || this.live.state.closed.length > before.closed.length) {
      if (await closeCycles(this.live)) await notifyLive(database(), { live: this.live.id, state: true });
    }
    const { stage } = this.live.state;
    if (stage === 'finished' || stage === 'stopped') return this.end();
    this.wantForecast();
    this.trace.forget(this.live.state.cycle_from_s - LOOK_BACK_S);
    // what is older than any window is needed for the forecast alone
    this.trace.thin(this.live.state.t - LOOK_BACK_S - this.live.settings.window_s, THINNED_S);
  }

  /** Lets the machine follow what was read, in even steps of the run's clock. */
  private advance(): LiveAction[] {
    const { live } = this;
    const step = Math.max(1, live.time_scale / MOST_STEPS);
    const to = this.clock.now() - (BEHIND_MS / 1000) * live.time_scale;
    const actions: LiveAction[] = [];
    for (let t = live.state.t + step; t <= to; t += step) {
      const next = follow(live.state, this.trace, live.settings, t);
      live.state = next.state;
      actions.push(...next.actions);
    }
    loadGuard.beat(this.run);
    this.disarmWhenOff();
    return actions;
  }

  /** What switches the load of this run off without the application. */
  private offCommands(): OffCommand[] {
    return this.live.sources.flatMap((s) =>
      s.switch_off && s.address.kind === 'scpi' ? [{ host: s.address.host, port: s.address.port, command: s.switch_off }] : [],
    );
  }

  private armLoad(): void {
    this.offSince = 0;
    loadGuard.arm(this.run, this.live.rig, this.offCommands());
  }

  /** True where the run may have its load on. */
  private mayHeat(): boolean {
    const { state, settings } = this.live;
    return (
      settings.switched && (['load', 'settling', 'averaging'].includes(state.stage) || (state.stage === 'idle' && state.asked_s !== null))
    );
  }

  /** A load that is not asked for and seen to be off needs no watch any more. */
  private disarmWhenOff(): void {
    if (!loadGuard.isArmed(this.run)) return;
    const { live, trace } = this;
    const off = !this.mayHeat() && !isLoaded({ state: live.state, trace, settings: live.settings, now: live.state.t });
    if (!off) this.offSince = 0;
    else if (this.offSince === 0) this.offSince = live.state.t;
    else if (live.state.t - this.offSince > OFF_S + live.settings.lag_s) loadGuard.disarm(this.run);
  }

  /** The load watch switched the load off while nobody followed the run. */
  private lookForCut(): void {
    if (Date.now() - this.cutLookedAt < CUT_LOOK_MS) return;
    this.cutLookedAt = Date.now();
    if (this.live.state.held || this.over) return;
    const why = loadGuard.cut(this.run);
    if (why !== null) this.holdLoad(why);
  }

  private holdLoad(why: string): void {
    if (this.live.settings.switched) this.act('cut_off');
    this.live.state = holdRun(this.live.state, why);
    // whoever follows the run next must know it, even if this process ends before it is stored
    loadGuard.leaveWord(this.run, why);
    process.stderr.write(`${this.live.rig}: ${why}\n`);
  }

  /** The application ends: a load that is on is switched off, unless another application can take the run up. */
  private async leaveLoad(): Promise<void> {
    if (!loadGuard.isArmed(this.run)) return;
    this.holdLoad('The load was switched off because the application was stopped.');
    const sent = Promise.all([...this.collectors.values()].map((c) => c.sent?.()));
    const late = new Promise<'late'>((done) => setTimeout(done, SENT_MS, 'late'));
    // what was not heard in time is left to the load watch
    if ((await Promise.race([sent, late])) !== 'late') loadGuard.disarm(this.run);
    await this.save().catch(() => {});
  }

  private act(action: LiveAction): void {
    if (action === 'load_on') this.armLoad();
    this.live.state = { ...this.live.state, load_wanted: action === 'load_on' };
    for (const source of this.live.sources) {
      const text = action === 'load_on' ? source.switch_on : source.switch_off;
      if (text) this.collectors.get(source.name)?.command?.(text);
    }
  }

  /** What is wrong now; a limit that is passed cuts the load off at once, whatever else waits. */
  private judge(): Alarm[] {
    const { live } = this;
    const now = this.clock.now();
    const lost = live.sources.flatMap((s) => {
      const { newest_s, connected } = this.health[s.name];
      if (connected || !this.collectors.has(s.name)) this.down.delete(s.name);
      else if (!this.down.has(s.name)) this.down.set(s.name, Date.now());
      // before the run begins, a source that never spoke stands among the checks
      if (newest_s === null && live.state.stage === 'preflight') return [];
      const since_s = newest_s ?? live.state.cycle_from_s;
      const down = this.down.get(s.name);
      const gone = isLost(
        (now - since_s) / live.time_scale,
        down === undefined ? null : (Date.now() - down) / 1000,
        s.period_s / live.time_scale,
        isAsked(s),
      );
      return gone ? [{ source: s.name, since_s }] : [];
    });
    for (const { source } of lost) if (!this.collectors.has(source)) this.health[source].connected = false;
    const alarms = watch(live.state, this.trace, live.settings, lost, this.lasting);
    this.lasting = new Set(alarms.map((a) => a.code));
    this.trace.muted.clear();
    for (const a of alarms) if (a.code.startsWith('stuck:')) this.trace.muted.add(a.code.slice('stuck:'.length));
    // a limit that is passed cuts the load off once
    for (const a of alarms.filter((x) => x.cut_off && !this.cut.has(x.code))) {
      this.cut.add(a.code);
      if (live.settings.switched) this.act('cut_off');
      if (a.code === 'too_hot') live.state = stopRun(live.state, a.message, live.settings, this.trace);
    }
    for (const code of this.cut) if (!alarms.some((a) => a.code === code)) this.cut.delete(code);
    return alarms;
  }

  private async raise(alarms: Alarm[]): Promise<void> {
    const said = JSON.stringify(alarms);
    if (said === this.alarmCodes) return;
    const fresh = await syncAlarms(database(), this.live.id, this.live.state.t, alarms);
    this.alarmCodes = said;
    if (fresh.length > 0) await this.save();
  }

  private async countRefusals(): Promise<void> {
    for (const [key, r] of this.refusals) {
      await countRefusal(database(), this.live.id, r.source, r.code, r.message, r.count);
      this.refusals.delete(key);
    }
  }

  private async obeyOrders(): Promise<void> {
    this.ordered = false;
    for (const order of await listOrders(database(), this.live.id)) {
      this.obey(order);
      if (order.kind === 'acknowledge') await acknowledgeAlarms(database(), this.live.id, order.who);
      if (this.live.state.closed.length > 0) for (const c of this.live.state.closed) await insertCycle(database(), this.live.id, c);
      await this.save();
      await markObeyed(database(), order.id);
    }
  }

  private obey({ kind, about }: OrderRow): void {
    const { live } = this;
    const { stage } = live.state;
    if (kind === 'begin' && stage === 'preflight') live.state = beginIdle(live.state);
    if (kind === 'stop') {
      // also where it was only just asked for and does not show yet
      if (live.settings.switched && (live.state.load_from_s !== null || loadGuard.isArmed(this.run))) this.act('load_off');
      live.state = stopRun(
        live.state,
        typeof about.reason === 'string' && about.reason ? about.reason : 'Stopped by hand.',
        live.settings,
        this.trace,
      );
    }
    if (kind === 'mark' && typeof about.event === 'string')
      live.state = markEvent(live.state, this.trace, about.event, Number(about.at_s ?? live.state.t));
    if (kind === 'hold' && !live.state.held && typeof about.reason === 'string') this.holdLoad(about.reason);
    if (kind === 'resume' && live.state.held) live.state = resumeRun(live.state);
    if (kind === 'start_load' && live.settings.switched && stage === 'idle' && !live.state.held) {
      this.act('load_on');
      live.state = { ...live.state, asked_s: live.state.t };
    }
    if (kind === 'end_load' && live.settings.switched) this.act('load_off');
  }

  private async save(): Promise<void> {
    const { live } = this;
    this.savedAt = Date.now();
    live.checks = live.state.stage === 'preflight' ? this.check() : live.checks;
    const open = await saveLive(database(), live.id, {
      ...{ state: live.state, forecast: this.forecast, checks: live.checks, health: this.health },
    });
    // its study was deleted, or it was ended past us: nothing is left to follow
    if (!open) return this.leave();
    if (live.state.held) loadGuard.noteCut(this.run);
    await notifyLive(database(), { live: live.id, state: true });
  }

  private check() {
    const { live } = this;
    const sources = live.sources.map((s) => ({ name: s.name, calibrated_until: s.calibrated_until, ...this.health[s.name] }));
    return preflight(this.trace, live.settings, live.state.t, sources, today(), live.settings.conditioned);
  }

  /** Asks a worker when the run will be steady; the answer also tells how slow it is, by which creeping is judged. */
  private wantForecast(): void {
    const { live } = this;
    const { state, settings } = live;
    const { stage, load_from_s } = state;
    if (stage !== 'load' && stage !== 'settling' && stage !== 'averaging') {
      this.forecast = null;
      return;
    }
    if (this.forecasting || load_from_s === null || Date.now() - this.forecastAt < FORECAST_MS) return;
    const course = courseSoFar(this.trace, state, settings);
    if (!course) return;
    this.forecasting = true;
    this.forecastAt = Date.now();
    liveThreads
      .forecast({ ...course, options: { window_s: settings.window_s, slope_k_per_min: settings.slope_k_per_min } })
      .then((f) => {
        this.forecast = f && {
          ...{ told_at_s: state.t, steady_s: load_from_s + f.steady_s, low_s: load_from_s + f.low_s, high_s: load_from_s + f.high_s },
          end: f.end,
        };
        if (f && live.state.load_from_s === load_from_s) live.state = { ...live.state, left: { k: f.left_k, tau_s: f.tau_s } };
      })
      .catch((error) => {
        if (!this.stopped) log.warn({ err: error }, 'no forecast');
      })
      .finally(() => {
        this.forecasting = false;
      });
  }

  /** The run is over: what is still held is stored, and the record is closed. */
  private async end(): Promise<void> {
    // above all the load is off before its instrument is let go
    await Promise.all([...this.collectors.values()].map((c) => c.sent?.()));
    loadGuard.disarm(this.run);
    await this.save();
    await syncAlarms(database(), this.live.id, this.live.state.t, []);
    await closeCycles(this.live);
    await endLive(database(), this.live.id);
    await notifyLive(database(), { live: this.live.id, state: true });
    this.leave();
  }

  private leave(): void {
    this.stopped = true;
    if (this.timer) clearInterval(this.timer);
    for (const c of this.collectors.values()) c.stop();
  }

  get over(): boolean {
    return this.stopped;
  }
}
