import { channelProblem, readChannelMap } from './channelMap';
import type { InstrumentSheet } from './sheets';
import { readAddress, type SourceKind } from './sourceAddress';

/** Kinds whose load is switched off when nobody watches any more: by the load watch, or by the device itself. */
const SWITCHED: SourceKind[] = ['scpi', 'push'];

/** What of an instrument's sheet cannot be read together, though each field by itself could; null where all can. */
export function liveProblem(sheet: InstrumentSheet): { field: keyof InstrumentSheet; problem: string } | null {
  if (!sheet.address) return null;
  const address = readAddress(sheet.address);
  if ('problem' in address) return { field: 'address', problem: address.problem };
  const map = readChannelMap(sheet.channels ?? '');
  // channels may be named later
  const problem = sheet.channels && !('problem' in map) ? channelProblem(address.kind, map.channels) : null;
  if (problem) return { field: 'channels', problem };
  if ((!sheet.switch_on && !sheet.switch_off) || SWITCHED.includes(address.kind)) return null;
  return {
    field: sheet.switch_on ? 'switch_on' : 'switch_off',
    problem:
      'It cannot switch the load: only what speaks SCPI over TCP or pushes its readings is switched off when Warm Gauge ends. Leave both commands empty.',
  };
}
