import type { Client } from '#app/database/pool';
import { SECTIONS, type SectionKey, type SheetValues } from '#features/shelf/model/sections';
import { insertSheet, listSheets } from '#features/shelf/store/sheets';
import { check } from '#rules/validation';

/** The shelf of the demo's workshop. Prices are of the spring before the study. */

const price = (amount: number) => ({ price: amount, currency: 'EUR', price_on: '2026-04-14' });
const syringe = (grams: number, per: number, packs: number) => ({ pack_size: grams, pack_unit: 'g', per_mount: per, packs });
const sheets = (count: number, length: number, width: number, packs: number) => ({
  ...{ pack_size: count, pack_unit: 'sheets', packs },
  ...{ sheet_length_mm: length, sheet_width_mm: width, cut_length_mm: 38, cut_width_mm: 38 },
});

const MATERIALS: Record<string, SheetValues> = {
  'Loam White': {
    kind: 'paste',
    conductivity_w_per_mk: 4.2,
    density_g_per_cm3: 2.5,
    bond_line_um: 45,
    conducts: false,
    aluminium_safe: true,
    ...syringe(30, 0.35, 1),
    ...price(11.8),
  },
  'Alder Grey': {
    kind: 'paste',
    conductivity_w_per_mk: 6.1,
    density_g_per_cm3: 2.7,
    bond_line_um: 50,
    conducts: false,
    aluminium_safe: true,
    ...syringe(4, 0.35, 3),
    ...price(9.4),
  },
  'Bramble 5': {
    kind: 'paste',
    conductivity_w_per_mk: 9.5,
    density_g_per_cm3: 2.6,
    bond_line_um: 40,
    conducts: false,
    aluminium_safe: true,
    conditioning_h: 1,
    ...syringe(5, 0.35, 2),
    ...price(14.9),
  },
  'Wick 60': {
    kind: 'phase_change',
    conductivity_w_per_mk: 8.5,
    thickness_mm: 0.2,
    bond_line_um: 25,
    conducts: false,
    aluminium_safe: true,
    conditioning_cycles: 4,
    conditioning_h: 1.5,
    ...sheets(4, 80, 40, 2),
    ...price(12.5),
  },
  'Slip Felt 0.5': {
    kind: 'pad',
    conductivity_w_per_mk: 6,
    density_g_per_cm3: 3.1,
    thickness_mm: 0.5,
    conducts: false,
    aluminium_safe: true,
    ...sheets(1, 120, 120, 2),
    ...price(8.2),
  },
  'Soot Leaf': {
    kind: 'graphite',
    conductivity_w_per_mk: 35,
    thickness_mm: 0.13,
    conducts: true,
    aluminium_safe: true,
    reusable: true,
    ...sheets(2, 40, 40, 1),
    ...price(15),
  },
  Tarn: {
    ...{
      kind: 'liquid_metal',
      conductivity_w_per_mk: 70,
      density_g_per_cm3: 6.4,
      bond_line_um: 20,
      conducts: true,
      aluminium_safe: false,
      contaminates: true,
    },
    ...{ ...syringe(1, 0.09, 1), ...price(13.6) },
    note: 'First drop from a fresh syringe is discarded. Mask neighbours; keep it out of drains.',
  },
  Hearthbond: {
    ...{
      kind: 'epoxy',
      conductivity_w_per_mk: 2.2,
      density_g_per_cm3: 2.3,
      bond_line_um: 60,
      conducts: false,
      aluminium_safe: true,
      permanent: true,
    },
    ...{ conditioning_h: 24, pot_life_min: 40, mixing_ratio: '1 : 1 by mass', ...syringe(10, 0.4, 1), ...price(19.5) },
  },
};

const FANS: Record<string, SheetValues> = {
  'Gale 120': { size_mm: 120, min_rpm: 500, max_rpm: 2400, control: 'pwm', ...price(16) },
  'Hush 120': { size_mm: 120, min_rpm: 300, max_rpm: 1500, control: 'pwm', ...price(21) },
};

const COOLERS: Record<string, SheetValues> = {
  Heron: {
    kind: 'tower',
    heatsink: 'six pipes, 48 fins',
    base_material: 'nickel',
    base_flatness_um: 18,
    screws: '2 × M3, sprung',
    torque_nm: 0.6,
    height_mm: 158,
    measured_height_mm: 160,
    mass_g: 890,
    measured_mass_g: 885,
    sound: 'a low hum, air above 1300 rpm',
    ...price(52),
  },
  Plover: {
    kind: 'tower',
    heatsink: 'four pipes, 40 fins',
    base_material: 'copper',
    base_flatness_um: 25,
    screws: '2 × M3, sprung',
    torque_nm: 0.6,
    height_mm: 134,
    measured_height_mm: 139,
    mass_g: 560,
    measured_mass_g: 566,
    sound: 'air, no tone',
    ...price(34),
  },
  'Low Otter': {
    kind: 'flat',
    heatsink: 'four pipes, lying fins',
    base_material: 'aluminium',
    base_flatness_um: 40,
    screws: '4 × M3',
    torque_nm: 0.5,
    height_mm: 46,
    mass_g: 380,
    sound: 'a whine near 1250 rpm',
    ...price(29),
  },
  'Weir 240': {
    kind: 'loop',
    heatsink: '240 mm radiator',
    base_material: 'copper',
    base_flatness_um: 12,
    screws: '4 × M3, sprung',
    torque_nm: 0.6,
    height_mm: 52,
    mass_g: 1150,
    sound: 'air, and the pump close by',
    ...price(96),
  },
};

/** Seconds of the simulated benches in one second. */
export const DEMO_SPEED = 30;

const INSTRUMENTS: Record<string, SheetValues> = {
  'Room thermometer A': {
    reads: 'temperature',
    unit: '°C',
    resolution: 0.01,
    accuracy: 0.1,
    serial: 'RT-07',
    calibrated_on: '2026-03-02',
    calibrated_until: '2027-03-02',
    offset: -0.04,
  },
  'Room thermometer B': {
    reads: 'temperature',
    unit: '°C',
    resolution: 0.01,
    accuracy: 0.1,
    serial: 'RT-08',
    calibrated_on: '2025-02-20',
    calibrated_until: '2026-02-20',
    offset: 0.02,
  },
  'Bench power meter': {
    reads: 'power',
    unit: 'W',
    resolution: 0.1,
    accuracy: 0.7,
    serial: 'PM-02',
    calibrated_on: '2026-01-15',
    calibrated_until: '2028-01-15',
  },
  'Tachometer 1': {
    reads: 'fan',
    unit: 'rpm',
    resolution: 1,
    accuracy: 2,
    serial: 'TA-11',
    calibrated_on: '2026-01-15',
    calibrated_until: '2028-01-15',
  },
  'Sound level meter': {
    reads: 'noise',
    unit: 'dB',
    resolution: 0.1,
    accuracy: 1.4,
    noise_floor: 24,
    serial: 'SL-03',
    calibrated_on: '2026-05-04',
    calibrated_until: '2028-05-04',
  },
  'Milligram scale': {
    reads: 'mass',
    unit: 'g',
    resolution: 0.001,
    accuracy: 0.002,
    serial: 'MS-01',
    calibrated_on: '2026-05-04',
    calibrated_until: '2027-05-04',
  },
};

/** Instruments of the simulated benches; their addresses are set when a bench is started. */
const benchInstruments = (rig: 'N' | 'S'): Record<string, SheetValues> => {
  const calibrated = { calibrated_on: '2026-03-02', calibrated_until: '2028-03-02' };
  const dies = [1, 2, 3, 4].map((i) => `Die ${i}: sensor °C = MEAS:TEMP? (@101:104)`).join('; ');
  return {
    [`Scanner ${rig}`]: {
      ...{ reads: 'temperature', unit: '°C', resolution: 0.1, accuracy: 0.3, serial: `TH-31${rig}`, ...calibrated },
      ...{ channels: `${dies}; Room: ambient °C = MEAS:TEMP? (@201)`, period_s: 2, identity: 'Scanner 20' },
    },
    [`Load ${rig}`]: {
      ...{ reads: 'power', unit: 'W', resolution: 0.1, accuracy: 0.5, serial: `PM-07${rig}`, ...calibrated },
      ...{ channels: 'Power: power W = MEAS:POW?', period_s: 2, identity: 'Load and meter', switch_on: 'OUTP ON', switch_off: 'OUTP OFF' },
    },
    [`Tachometer ${rig}`]: {
      ...{ reads: 'fan', unit: 'rpm', resolution: 1, accuracy: 2, serial: `TA-12${rig}`, ...calibrated },
      ...{ channels: 'Fan: fan rpm = MEAS:FREQ?', period_s: 2, identity: 'Tachometer' },
    },
    [`Sound meter ${rig}`]: {
      ...{ reads: 'noise', unit: 'dB', resolution: 0.1, accuracy: 1.4, noise_floor: 26, serial: `SM-04${rig}`, ...calibrated },
      ...{ channels: 'Noise: noise dB = MEAS:SLEV?', period_s: 4, identity: 'Sound meter' },
    },
    [`Card ${rig}`]: {
      reads: 'other',
      serial: `TM6${rig}`,
      ...calibrated,
      address: 'push',
      channels: 'Clock: clock MHz; Throttling: throttle',
      period_s: 2,
      note: 'The card under test, which reads itself.',
    },
  };
};
const NORTH = benchInstruments('N');
const SOUTH = benchInstruments('S');

const rig = (unit: string, ids: Record<string, number>, instruments: string[]): SheetValues => ({
  ...{
    heat_source: 'TM-6 correlator card, 140 W, lid 37 × 37 mm',
    unit_serial: unit,
    contact: 'lid',
    contact_length_mm: 37,
    contact_width_mm: 37,
    contact_material: 'nickel',
  },
  ...{
    die_sensors: 4,
    sensor_resolution_k: 0.1,
    sensor_accuracy_k: 2,
    throttle_limit_c: 92,
    power_w: 140,
    clock_mhz: 2100,
    fan_control: 'fixed',
    fan_rpm: 1200,
    firmware_profile: 'fixed clock, boost off',
  },
  ...{
    mount_pattern: '2 screws in turn, three rounds',
    screw_positions: '-41, 0; 41, 0',
    torque_max_nm: 0.8,
    neighbours: 'memory pads, regulator pad',
    masked_neighbours: 'capacitor row beside the lid',
    enclosure: 'open frame',
    panels: 'open',
    air_direction: 'front to back',
  },
  ...{ stop_c: 97, most_k_per_min: 30, time_scale: DEMO_SPEED },
  ...{ lid_coupons: 12, base_coupons: 12, cooler_id: ids.Heron, instruments: instruments.map((n) => ids[n]) },
});

/**
 * Puts the demo's sheets on the shelf, where they are not there yet.
 * @returns the number of each sheet by its name
 */
export async function stockShelf(db: Client): Promise<Record<string, number>> {
  const ids: Record<string, number> = {};
  const put = async (section: SectionKey, items: Record<string, SheetValues>) => {
    for (const [name, sheet] of Object.entries(items))
      await insertSheet(db, section, name, check(SECTIONS[section].sheet as new () => object, sheet) as SheetValues);
    for (const s of await listSheets(db, section)) if (s.name in items) ids[s.name] = s.id;
  };
  await put('materials', MATERIALS);
  await put('fans', FANS);
  await put('instruments', { ...INSTRUMENTS, ...NORTH, ...SOUTH });
  await put(
    'coolers',
    Object.fromEntries(
      Object.entries(COOLERS).map(([name, sheet]) => [name, { ...sheet, fans: name === 'Low Otter' ? [] : [ids['Gale 120']] }]),
    ),
  );
  await put('rigs', {
    'North bench': rig('TM6-0117', ids, ['Room thermometer A', 'Bench power meter', 'Tachometer 1', ...Object.keys(NORTH)]),
    'South bench': rig('TM6-0122', ids, ['Room thermometer B', 'Bench power meter', 'Tachometer 1', ...Object.keys(SOUTH)]),
  });
  return ids;
}

/** Takes the demo's sheets away again, those that nothing else uses. */
export const SHELF_NAMES: Record<SectionKey, string[]> = {
  rigs: ['North bench', 'South bench'],
  coolers: Object.keys(COOLERS),
  materials: Object.keys(MATERIALS),
  fans: Object.keys(FANS),
  instruments: Object.keys({ ...INSTRUMENTS, ...NORTH, ...SOUTH }),
};
