import { type Client, database } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { beginState } from '#core/live/follow';
import { LIVE_DEFAULTS, type LiveSettings } from '#core/live/types';
import { LiveOrder, LiveStart } from '#features/live/model/orders';
import { insertLive, insertOrder, notifyLive } from '#features/live/store/live';
import { LIMIT_EVENTS } from '#features/mount/model/liveKinds';
import { getMountSetting, listAttempts, type MountSettingRow } from '#features/mount/store/attempts';
import { studyReduction } from '#features/run/server/studyReduction';
import { listRuns } from '#features/run/store/runs';
import { type LiveSource, readChannelMap } from '#features/shelf/model/channelMap';
import { liveProblem } from '#features/shelf/model/liveSheet';
import type { InstrumentSheet, RigSheet } from '#features/shelf/model/sheets';
import { readAddress } from '#features/shelf/model/sourceAddress';
import { listSheets } from '#features/shelf/store/sheets';
import { resolvePlan } from '#features/study/model/resolve';
import { planView } from '#features/study/server/planView';
import { getStudy } from '#features/study/store/studies';
import { check } from '#rules/validation';
import { liveView } from './liveView';

/** How far above the throttle limit the load is cut off where the rig's sheet says nothing, K. */
const ABOVE_LIMIT_K = 5;
const MOST_CYCLES = 30;

/** Begins a live run on a mount: what its study, rig and instruments say becomes its settings and sources. */
export async function startLive(given: Record<string, unknown>): Promise<{ id: number }> {
  const said = check(LiveStart, given);
  const db = database();
  const mount = await getMountSetting(db, said.mount_id);
  if (!mount) throw new Refusal(`There is no mount ${said.mount_id}.`, 404);
  const sources = await sourcesOf(db, mount);
  const settings = await settingsOf(db, mount, said, sources);
  const id = await insertLive(db, {
    ...{ mount_id: mount.id, rig_id: mount.rig_id, who: said.who ?? '', settings, sources },
    ...{ time_scale: mount.rig_sheet.time_scale ?? 1, state: beginState(0, settings) },
  });
  if (id === null) throw new Refusal(`${mount.rig} already has a live run; end it first.`, 409);
  await notifyLive(db, { live: id, order: true });
  return { id };
}

/** Instruments of the rig that can be read, as their sheets say. */
async function sourcesOf(db: Client, mount: MountSettingRow): Promise<LiveSource[]> {
  const wanted = mount.rig_sheet.instruments ?? [];
  const sheets = (await listSheets(db, 'instruments')).filter((s) => wanted.includes(s.id) && !s.archived);
  const sources: LiveSource[] = [];
  for (const { id, name, sheet } of sheets) {
    const s = sheet as InstrumentSheet;
    if (!s.address) continue;
    const address = readAddress(s.address);
    const map = readChannelMap(s.channels ?? '');
    if ('problem' in address) throw new Refusal(`${name}: ${address.problem}`);
    if ('problem' in map) throw new Refusal(`${name}: ${map.problem}`);
    const wrong = liveProblem(s);
    if (wrong) throw new Refusal(`${name}: ${wrong.problem}`);
    const twice = map.channels.find((c) => sources.some((o) => o.channels.some((k) => k.name === c.name)));
    if (twice) throw new Refusal(`Two instruments of ${mount.rig} have a channel "${twice.name}"; give each its own name.`);
    sources.push({
      ...{ instrument_id: id, name, address, channels: map.channels, period_s: s.period_s ?? 1, identity: s.identity || null },
      ...{ switch_on: s.switch_on || null, switch_off: s.switch_off || null, offset: s.offset ?? 0 },
      ...{ clock_offset_s: s.clock_offset_s ?? null, calibrated_until: s.calibrated_until ?? null },
    });
  }
  if (sources.length === 0)
    throw new Refusal(
      `${mount.rig} has no instrument with an address. Give its instruments an address and channels on the shelf, and name them on the rig's sheet.`,
    );
  if (!sources.some((s) => s.channels.some((c) => c.role === 'sensor')))
    throw new Refusal(`None of the instruments of ${mount.rig} reads the part: give a channel the role "sensor".`);
  return sources;
}

async function settingsOf(db: Client, mount: MountSettingRow, said: LiveStart, sources: LiveSource[]): Promise<LiveSettings> {
  const study = await getStudy(db, mount.study_id);
  const held = study ? await studyReduction(db, study) : null;
  const view = await planView(mount.study_id, db);
  const plan = resolvePlan(view.plan, view.context).said;
  const steps = plan.loads?.length === 1 ? plan.loads[0].steps : [];
  const lasts = (stage: string) => 60 * steps.filter((s) => s.stage === stage).reduce((m, s) => m + s.minutes, 0);
  const earlier = (await listRuns(db, mount.study_id)).filter((r) => r.mount_id === mount.id);
  const rig = mount.rig_sheet as RigSheet;
  const limit = rig.throttle_limit_c ?? null;
  const attended = said.kind === 'limit_test';
  const stop = said.stop_c ?? rig.stop_c ?? (limit === null ? null : limit + ABOVE_LIMIT_K);
  if (attended && stop === null)
    throw new Refusal('A test to the limit needs its hard limit in °C: type it, or note it on the rig.', 400, { field: 'stop_c' });
  const given = Object.fromEntries(
    Object.entries(held ?? {}).filter(([key, v]) => v !== null && v !== undefined && Object.hasOwn(LIVE_DEFAULTS, key)),
  );
  return {
    ...LIVE_DEFAULTS,
    ...given,
    ...{ kind: said.kind, limit_c: limit, stop_c: stop, most_k_per_min: rig.most_k_per_min ?? null, room_c: said.room_c ?? null },
    cycles:
      said.cycles ??
      (said.kind === 'run'
        ? Math.max(1, (plan.runs ?? 1) - earlier.filter((r) => r.judged !== 'excluded').length)
        : attended
          ? 1
          : MOST_CYCLES),
    power_w: held?.power_w ?? rig.power_w ?? null,
    fan_rpm: attended ? 0 : (held?.fan_rpm ?? rig.fan_rpm ?? null),
    idle_s: lasts('idle') || LIVE_DEFAULTS.idle_s,
    most_load_s: said.most_load_s ?? Math.max(lasts('load'), LIVE_DEFAULTS.most_load_s),
    first: earlier.sort((a, b) => a.number - b.number)[0]?.result.start_state ?? null,
    run_sd_k: plan.run_sd ?? LIVE_DEFAULTS.run_sd_k,
    switched: sources.some((s) => s.switch_on && s.switch_off),
    conditioned: said.kind === 'conditioning' ? null : await conditionedOf(db, mount),
    awaited: attended ? LIMIT_EVENTS : [],
  };
}

/** Whether the material's conditioning was done at the newest try; null where it asks for none. */
async function conditionedOf(db: Client, mount: MountSettingRow): Promise<LiveSettings['conditioned']> {
  const sheet = mount.material?.sheet;
  const cycles = sheet?.conditioning_cycles ?? 0;
  if (cycles === 0 && !sheet?.conditioning_h) return null;
  const last = (await listAttempts(db, mount.id)).at(-1);
  const done = Boolean(last?.steps.condition?.done_at);
  const asks = cycles > 0 ? `${cycles} cycles` : `${sheet?.conditioning_h} h`;
  return {
    done,
    message: done
      ? `Done as the mount's record says (${asks}).`
      : `The material asks for ${asks}; the mount's record does not say that they were done.`,
  };
}

/** Tells a live run what a person wants; whoever follows it obeys. */
export async function orderLive(id: number, given: Record<string, unknown>): Promise<void> {
  const { kind, reason, event, who = '' } = check(LiveOrder, given);
  const view = await liveView(id);
  if (view.over) throw new Refusal('This live run is over.', 409);
  const wrong = view.checks.filter((c) => c.state === 'wrong');
  if (kind === 'begin' && view.state.stage !== 'preflight') throw new Refusal('This run has already begun.', 409);
  if (kind === 'begin' && wrong.length > 0 && !reason?.trim())
    throw new Refusal(
      `${wrong.map((c) => c.label).join(', ')} ${wrong.length === 1 ? 'is' : 'are'} not right. Fix it, or give a reason to start anyway.`,
      409,
      { field: 'reason' },
    );
  if (kind === 'mark' && !event?.trim()) throw new Refusal('Enter what was seen.', 400, { field: 'event' });
  await insertOrder(
    database(),
    id,
    kind,
    { ...(reason ? { reason: reason.trim() } : {}), ...(event ? { event: event.trim(), at_s: view.now_s } : {}) },
    who,
  );
}
