import { type Client, database, transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { type AgentChannel, AgentHello, MeasureStart } from '#features/live/model/agent';
import { type AgentRow, getAgent, listAgents, listBeginnable, noteAgent, setAsked, setInstrument } from '#features/live/store/agents';
import { firstPlan } from '#features/run/server/firstPlan';
import { findPlace } from '#features/run/server/place';
import { readChannelMap } from '#features/shelf/model/channelMap';
import type { InstrumentSheet, RigSheet } from '#features/shelf/model/sheets';
import { findSheet, getSheet, insertSheet, listSheets, updateSheet } from '#features/shelf/store/sheets';
import type { StudyPlan } from '#features/study/model/studyPlan';
import { changePlan } from '#features/study/server/editPlan';
import { planVersion } from '#features/study/server/planView';
import { listSpecimens } from '#features/study/store/studies';
import { check } from '#rules/validation';
import { startLive } from './startLive';

/** An agent that did not speak for so long is not there, s. */
const THERE_S = 8;
/** By this a load of an agent is switched; it stands on the sheet of the machine where others have a command. */
const LOAD = 'load';
const MOST_STUDIES = 12;
/** Rest before a load and the longest load of a study that is opened here, min, where nothing else is said. */
const IDLE_MIN = 2;
const LOAD_MIN = 60;

/** A run that an agent is given. */
interface GivenRun {
  id: number;
  source: string;
  hold_w: number | null;
  limit_c: number | null;
}

/** Takes what an agent says of its machine, and gives it the run that was begun on it, where there is one. */
export async function greetAgent(given: Record<string, unknown>): Promise<{ run: GivenRun | null }> {
  const said = check(AgentHello, given);
  const map = readChannelMap(mapOf(said.channels));
  if ('problem' in map) throw new Refusal(map.problem);
  const db = database();
  const { key, name, channels, period_s, load: can_load, hold_w = null, limit_c = null, now } = said;
  const known = Object.fromEntries(
    channels.map((c) => [c.name, typeof now[c.name] === 'number' && Number.isFinite(now[c.name]) ? now[c.name] : null]),
  );
  await noteAgent(db, { key, name, channels, period_s, can_load, hold_w, limit_c, now: known });
  const { live_id, live_source, asked_hold_w, asked_limit_c } = (await getAgent(db, key)) as AgentRow;
  if (live_id === null || live_source === null) return { run: null };
  return { run: { id: live_id, source: live_source, hold_w: asked_hold_w, limit_c: asked_limit_c } };
}

/** A machine as the page shows it. */
export interface AgentView {
  key: string;
  name: string;
  can_load: boolean;
  hold_w: number | null;
  limit_c: number | null;
  channels: (AgentChannel & { now: number | null })[];
  /** the live run that goes on on it */
  live: number | null;
}

/** Machines whose agents are there, with what they read now. */
export async function agentsView(): Promise<{ agents: AgentView[] }> {
  const agents = await listAgents(database(), THERE_S);
  return {
    agents: agents.map(({ key, name, can_load, hold_w, limit_c, channels, now, live_id }) => ({
      ...{ key, name, can_load, hold_w, limit_c },
      channels: channels.map((c) => ({ ...c, now: now[c.name] ?? null })),
      live: live_id,
    })),
  };
}

/** What the page of a first run begins with: studies that can be gone on with, and what is compared in each. */
export const measureView = async () => ({ ...(await agentsView()), studies: await listBeginnable(database(), MOST_STUDIES) });
export type MeasureView = Awaited<ReturnType<typeof measureView>>;

/**
 * Begins a live run on a machine whose agent waits: its sheet, a rig, the study, the specimen and a new mount are made where they are not
 * there.
 * @throws Refusal where the agent is gone or busy, or what it reads is not enough
 */
export async function measureMachine(given: Record<string, unknown>): Promise<{ live: number }> {
  const said = check(MeasureStart, given);
  const agent = await getAgent(database(), said.agent);
  if (!agent || Date.now() - agent.seen_at.getTime() > 1000 * THERE_S)
    throw new Refusal('The agent of this machine is not heard any more. Start it again, then begin.', 409, { field: 'agent' });
  const has = (role: string) => agent.channels.some((c) => c.role === role);
  if (!has('sensor'))
    throw new Refusal(
      `${agent.name} reads no temperature of the part. Give it one: another probe as an instrument on the shelf, or the log of a program with --tail.`,
      400,
      { field: 'agent' },
    );
  if (!has('ambient') && said.room_c == null)
    throw new Refusal(`${agent.name} reads no room temperature. Read one beside it and enter it.`, 400, { field: 'room_c' });
  if (said.hold_w != null && !agent.can_load)
    throw new Refusal(`${agent.name} may not be loaded: start its agent with --load threads.`, 400, { field: 'hold_w' });
  if (said.hold_w != null && !has('power'))
    throw new Refusal(`${agent.name} reads no power, so none can be held. Leave the field empty to load it fully.`, 400, {
      field: 'hold_w',
    });
  if (!said.study_id && !said.study_title?.trim())
    throw new Refusal('Choose a study, or enter the title of a new one.', 400, { field: 'study_title' });
  // nothing is made for a run that could not begin
  if (agent.live_id !== null) throw new Refusal(`${agent.name} already has a live run; end it first.`, 409);
  const { study_id, mount_id } = await transaction(async (client) => {
    const instrument = await openInstrument(client, agent);
    await setAsked(client, agent.key, said.hold_w ?? null, said.limit_c ?? null);
    const rig = await openRigOf(client, agent, instrument, said);
    const place = await findPlace(client, {
      ...(said.study_id ? { study_id: said.study_id } : { study_title: said.study_title?.trim() }),
      ...(await specimenOf(client, said)),
      ...{ rig_id: rig },
    } as Parameters<typeof findPlace>[1]);
    return place;
  });
  if (!said.study_id) await planOf(study_id, said);
  const { id } = await startLive({
    ...{ mount_id, kind: 'run', cycles: said.runs ?? 1, room_c: said.room_c ?? null, who: said.who ?? '' },
    most_load_s: said.load_min == null ? null : 60 * said.load_min,
  });
  return { live: id };
}

/** Writes into the plan of a study that was opened here what was said of its runs. */
async function planOf(study: number, { runs, hold_w, idle_min, load_min }: MeasureStart): Promise<void> {
  const steps = [
    { stage: 'idle' as const, minutes: idle_min ?? IDLE_MIN },
    { stage: 'load' as const, minutes: load_min ?? LOAD_MIN, power_w: hold_w ?? null },
  ];
  const changes: Partial<StudyPlan> = { ...(await firstPlan(study, 'paste', [])), runs: runs ?? 1, loads: [{ name: 'Load', steps }] };
  await changePlan(study, { base: await planVersion(study), changes, insist: Object.keys(changes) });
}

async function specimenOf(client: Client, { study_id, specimen }: MeasureStart) {
  const known = study_id
    ? (await listSpecimens(client, study_id)).find((s) => s.name.toLowerCase() === specimen.trim().toLowerCase())
    : null;
  return known ? { specimen_id: known.id } : { specimen_name: specimen.trim(), specimen_kind: 'paste' };
}

/** The machine as an instrument on the shelf: made where it is not there, and brought up to what its agent says now. */
async function openInstrument(client: Client, agent: AgentRow): Promise<number> {
  const own: Partial<InstrumentSheet> = {
    ...{ address: 'push', channels: mapOf(agent.channels), period_s: agent.period_s },
    ...(agent.can_load ? { switch_on: LOAD, switch_off: LOAD } : {}),
  };
  const known = agent.instrument_id === null ? null : await getSheet(client, 'instruments', agent.instrument_id);
  if (known) {
    const { switch_on: _, switch_off: __, ...kept } = known.sheet as InstrumentSheet;
    if (!(await updateSheet(client, 'instruments', known.id, known.version, known.name, { ...kept, ...own } as never)))
      throw new Refusal('Somebody changed the sheet of this machine just now. Try again.', 409);
    return known.id;
  }
  const id = await insertNamed(client, 'instruments', agent.name, own);
  await setInstrument(client, agent.key, id);
  return id;
}

/** The rig that the machine is: one that names it as its instrument, or a new one. */
async function openRigOf(client: Client, agent: AgentRow, instrument: number, said: MeasureStart): Promise<number> {
  const rig = (await listSheets(client, 'rigs')).find((r) => (r.sheet as RigSheet).instruments?.includes(instrument) && !r.archived);
  const held = said.hold_w == null ? {} : { power_w: said.hold_w };
  if (!rig) return insertNamed(client, 'rigs', agent.name, { instruments: [instrument], heat_source: agent.name, ...held });
  if (said.hold_w != null && (rig.sheet as RigSheet).power_w !== said.hold_w)
    await updateSheet(client, 'rigs', rig.id, rig.version, rig.name, { ...(rig.sheet as RigSheet), ...held } as never);
  return rig.id;
}

/** Puts a sheet on the shelf under a name that is free. */
async function insertNamed(client: Client, section: 'instruments' | 'rigs', name: string, sheet: object): Promise<number> {
  for (let n = 1; n < 100; n++) {
    const free = n === 1 ? name : `${name} ${n}`;
    if (await findSheet(client, section, free)) continue;
    const id = await insertSheet(client, section, free, sheet as never);
    if (id !== null) return id;
  }
  throw new Refusal(`A hundred sheets are called ${name}; start the agent with another --name.`, 409);
}

/** Channels as they stand on a sheet. */
const mapOf = (channels: AgentChannel[]): string =>
  channels.map(({ name, role, unit }) => `${name}: ${role}${unit ? ` ${unit}` : ''}`).join('; ');
