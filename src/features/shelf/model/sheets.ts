import { readScrews } from '#core/thermal/tightening/readScrews';
import { ChoiceField, DateField, NumberField, RefField, RefsField, TextField, WholeField, YesNoField } from '#rules/fields';
import { Reads } from '#rules/rules';
import { readAddress, readChannelMap } from './channelMap';
import { KIND_NAMES } from './materials';

const { cooler: _cooler, state: _state, ...MATERIAL_KINDS } = KIND_NAMES;

const METALS = {
  copper: 'Copper',
  nickel: 'Nickel-plated copper',
  aluminium: 'Aluminium',
  steel: 'Steel',
  ceramic: 'Ceramic',
  silicon: 'Bare silicon',
  other: 'Other',
};

/** A thermal interface material. */
export class MaterialSheet {
  @ChoiceField({ label: 'Kind', group: 'Matter', choices: MATERIAL_KINDS, column: true })
  kind?: keyof typeof MATERIAL_KINDS;

  @NumberField({ label: 'Claimed conductivity', unit: 'W/(m·K)', group: 'Matter', min: 0.01, max: 5000, column: true })
  conductivity_w_per_mk?: number;

  @NumberField({ label: 'Density', unit: 'g/cm³', group: 'Matter', min: 0.1, max: 25 })
  density_g_per_cm3?: number;

  @NumberField({ label: 'Thickness', unit: 'mm', group: 'Matter', min: 0.005, max: 20, hint: 'of a pad or sheet' })
  thickness_mm?: number;

  @NumberField({ label: 'Bond line', unit: 'µm', group: 'Matter', min: 1, max: 5000, hint: 'after pressing, as stated' })
  bond_line_um?: number;

  @YesNoField({ label: 'Conducts electricity', group: 'Handling' })
  conducts?: boolean;

  @YesNoField({ label: 'Safe on aluminium', group: 'Handling', column: true })
  aluminium_safe?: boolean;

  @YesNoField({ label: 'Contaminates what follows', group: 'Handling', hint: 'mounted late in its day' })
  contaminates?: boolean;

  @YesNoField({ label: 'Permanent', group: 'Handling', hint: 'each mount uses up a coupon' })
  permanent?: boolean;

  @YesNoField({ label: 'Reusable', group: 'Handling', hint: 'one piece serves several mounts' })
  reusable?: boolean;

  @WholeField({ label: 'Conditioning', unit: 'cycles', group: 'Handling', min: 0, max: 1000 })
  conditioning_cycles?: number;

  @NumberField({
    label: 'Conditioning or cure',
    unit: 'h',
    group: 'Handling',
    min: 0,
    max: 2000,
    column: true,
    hint: 'between assembly and first run',
  })
  conditioning_h?: number;

  @NumberField({ label: 'Pot life', unit: 'min', group: 'Handling', min: 0.5, max: 10_000 })
  pot_life_min?: number;

  @TextField({ label: 'Mixing ratio', group: 'Handling', most: 40, hint: 'such as 1 : 1 by mass' })
  mixing_ratio?: string;

  @NumberField({ label: 'Pack holds', group: 'Price and stock', min: 0.001, max: 1e6 })
  pack_size?: number;

  @ChoiceField({ label: 'Pack unit', group: 'Price and stock', choices: { g: 'g', ml: 'ml', sheets: 'sheets' } })
  pack_unit?: 'g' | 'ml' | 'sheets';

  @NumberField({
    label: 'One mount takes',
    group: 'Price and stock',
    min: 0.0001,
    max: 1e5,
    hint: 'in the unit of the pack; for sheets the cut below counts',
  })
  per_mount?: number;

  @NumberField({ label: 'Sheet length', unit: 'mm', group: 'Price and stock', min: 1, max: 5000 })
  sheet_length_mm?: number;

  @NumberField({ label: 'Sheet width', unit: 'mm', group: 'Price and stock', min: 1, max: 5000 })
  sheet_width_mm?: number;

  @NumberField({ label: 'Cut length', unit: 'mm', group: 'Price and stock', min: 0.5, max: 5000 })
  cut_length_mm?: number;

  @NumberField({ label: 'Cut width', unit: 'mm', group: 'Price and stock', min: 0.5, max: 5000 })
  cut_width_mm?: number;

  @NumberField({ label: 'Packs bought', group: 'Price and stock', min: 0, max: 10_000 })
  packs?: number;

  @NumberField({ label: 'Price', group: 'Price and stock', min: 0, max: 1e6, hint: 'of one pack', column: true })
  price?: number;

  @TextField({ label: 'Currency', group: 'Price and stock', most: 3, hint: 'three letters, such as EUR' })
  currency?: string;

  @DateField({ label: 'Price of', group: 'Price and stock', hint: 'prices age; a report prints this date' })
  price_on?: string;

  @TextField({ label: 'Note', group: 'Note', most: 1000 })
  note?: string;
}

/** A bought part. */
class PricedSheet {
  @NumberField({ label: 'Price', group: 'Price', min: 0, max: 1e6, column: true })
  price?: number;

  @TextField({ label: 'Currency', group: 'Price', most: 3, hint: 'three letters, such as EUR' })
  currency?: string;

  @DateField({ label: 'Price of', group: 'Price' })
  price_on?: string;

  @TextField({ label: 'Note', group: 'Note', most: 1000 })
  note?: string;
}

export class CoolerSheet extends PricedSheet {
  @ChoiceField({
    label: 'Kind',
    group: 'Build',
    column: true,
    choices: { tower: 'Tower', flat: 'Flat', loop: 'Liquid loop', module: 'Module', heatsink: 'Heatsink', plate: 'Plate' },
  })
  kind?: string;

  @TextField({ label: 'Heatsink', group: 'Build', column: true })
  heatsink?: string;

  @RefsField({ label: 'Fans fitted', group: 'Build', section: 'fans' })
  fans?: number[];

  @ChoiceField({ label: 'Base', group: 'Build', choices: METALS, column: true })
  base_material?: keyof typeof METALS;

  @NumberField({
    label: 'Base flatness',
    unit: 'µm',
    group: 'Build',
    min: 0,
    max: 5000,
    hint: 'peak to valley over the contact',
    column: true,
  })
  base_flatness_um?: number;

  @TextField({ label: 'Mount screws', group: 'Mount', hint: 'count, thread, springs' })
  screws?: string;

  @NumberField({ label: 'Torque', unit: 'N·m', group: 'Mount', min: 0, max: 50 })
  torque_nm?: number;

  @NumberField({ label: 'Height', unit: 'mm', group: 'Build', min: 1, max: 1000, hint: 'as its maker states it' })
  height_mm?: number;

  @NumberField({
    label: 'Height measured',
    unit: 'mm',
    group: 'Build',
    min: 1,
    max: 1000,
    hint: 'from the contact to the top, fan and cables included',
  })
  measured_height_mm?: number;

  @NumberField({ label: 'Mass', unit: 'g', group: 'Build', min: 1, max: 100_000, hint: 'as its maker states it' })
  mass_g?: number;

  @NumberField({ label: 'Mass measured', unit: 'g', group: 'Build', min: 1, max: 100_000 })
  measured_mass_g?: number;

  @TextField({ label: 'Sounds', group: 'Build', most: 200, hint: 'its character: hum, rattle, whine, air' })
  sound?: string;
}

export class FanSheet extends PricedSheet {
  @NumberField({ label: 'Size', unit: 'mm', group: 'Build', min: 5, max: 1000, column: true })
  size_mm?: number;

  @NumberField({ label: 'Lowest speed', unit: 'rpm', group: 'Build', min: 0, max: 100_000, column: true })
  min_rpm?: number;

  @NumberField({ label: 'Highest speed', unit: 'rpm', group: 'Build', min: 1, max: 100_000, column: true })
  max_rpm?: number;

  @ChoiceField({ label: 'Control', group: 'Build', choices: { pwm: 'Pulse width', voltage: 'Voltage', none: 'None' } })
  control?: string;
}

export class RigSheet {
  @TextField({ label: 'Heat source', group: 'Heat source', most: 200, column: true })
  heat_source?: string;

  @TextField({ label: 'Unit', group: 'Heat source', most: 80, hint: 'serial number: two units are two devices', column: true })
  unit_serial?: string;

  @ChoiceField({
    label: 'Contact',
    group: 'Heat source',
    choices: { lid: 'Lid', die: 'Bare die', dies: 'Several dies', row: 'Row of parts' },
  })
  contact?: string;

  @NumberField({ label: 'Contact length', unit: 'mm', group: 'Heat source', min: 0.5, max: 1000 })
  contact_length_mm?: number;

  @NumberField({ label: 'Contact width', unit: 'mm', group: 'Heat source', min: 0.5, max: 1000 })
  contact_width_mm?: number;

  @ChoiceField({ label: 'Contact material', group: 'Heat source', choices: METALS })
  contact_material?: keyof typeof METALS;

  @WholeField({ label: 'Die sensors', group: 'Heat source', min: 0, max: 512 })
  die_sensors?: number;

  @NumberField({ label: 'Sensor resolution', unit: 'K', group: 'Heat source', min: 0.0001, max: 10, hint: 'step of the die sensors' })
  sensor_resolution_k?: number;

  @NumberField({
    label: 'Sensor accuracy',
    unit: 'K',
    group: 'Heat source',
    min: 0,
    max: 50,
    hint: 'plus or minus, by the data sheet of the part',
  })
  sensor_accuracy_k?: number;

  @NumberField({ label: 'Throttle limit', unit: '°C', group: 'Heat source', min: 30, max: 300, column: true })
  throttle_limit_c?: number;

  @NumberField({ label: 'Power set-point', unit: 'W', group: 'Set-points', min: 0, max: 100_000, column: true })
  power_w?: number;

  @NumberField({ label: 'Clock set-point', unit: 'MHz', group: 'Set-points', min: 0, max: 100_000 })
  clock_mhz?: number;

  @ChoiceField({
    label: 'Fan control',
    group: 'Set-points',
    choices: { fixed: 'Fixed speed', noise: 'Equal noise', automatic: 'Automatic' },
  })
  fan_control?: string;

  @NumberField({ label: 'Fan target', unit: 'rpm', group: 'Set-points', min: 0, max: 100_000 })
  fan_rpm?: number;

  @TextField({ label: 'Firmware profile', group: 'Set-points' })
  firmware_profile?: string;

  @RefField({ label: 'Cooler as fitted', group: 'Build', section: 'coolers' })
  cooler_id?: number;

  @RefsField({ label: 'Instruments', group: 'Build', section: 'instruments' })
  instruments?: number[];

  @TextField({ label: 'Mount pattern', group: 'Build', hint: 'screws and order' })
  mount_pattern?: string;

  @Reads((text) => {
    const read = readScrews(text);
    return 'problem' in read ? read.problem : null;
  })
  @TextField({
    label: 'Screw positions',
    group: 'Build',
    hint: 'x, y in mm from the middle of the part, such as -40, -30; 40, -30; 40, 30; -40, 30',
  })
  screw_positions?: string;

  @NumberField({ label: 'Most torque', unit: 'N·m', group: 'Build', min: 0.01, max: 50 })
  torque_max_nm?: number;

  @TextField({ label: 'Neighbours under the cooler', group: 'Build', hint: 'parts whose pads a lift separates, by comma' })
  neighbours?: string;

  @TextField({ label: 'Masked neighbours', group: 'Build' })
  masked_neighbours?: string;

  @TextField({ label: 'Enclosure', group: 'Surroundings' })
  enclosure?: string;

  @ChoiceField({ label: 'Panels', group: 'Surroundings', choices: { open: 'Open', shut: 'Shut' } })
  panels?: string;

  @TextField({ label: 'Air direction', group: 'Surroundings', most: 80 })
  air_direction?: string;

  @TextField({ label: 'Neighbour heat', group: 'Surroundings', hint: 'what else warms the air' })
  neighbour_heat?: string;

  @NumberField({ label: 'Hard limit', unit: '°C', group: 'Live', min: 30, max: 300, hint: 'a live run is cut off here' })
  stop_c?: number;

  @NumberField({
    label: 'Steepest rise',
    unit: 'K/min',
    group: 'Live',
    min: 0.1,
    max: 1000,
    hint: 'after the first minute of load; more raises an alarm',
  })
  most_k_per_min?: number;

  @NumberField({
    label: 'Speed of its clock',
    group: 'Live',
    min: 1,
    max: 100,
    hint: 'of a simulated bench alone: its seconds in one second',
  })
  time_scale?: number;

  @WholeField({ label: 'Lid coupons', group: 'Coupons', min: 0, max: 10_000, hint: 'a permanent bond uses one up' })
  lid_coupons?: number;

  @WholeField({ label: 'Base coupons', group: 'Coupons', min: 0, max: 10_000 })
  base_coupons?: number;

  @TextField({ label: 'Note', group: 'Note', most: 1000 })
  note?: string;
}

export class InstrumentSheet {
  @ChoiceField({
    label: 'Reads',
    group: 'Reading',
    column: true,
    choices: {
      temperature: 'Temperature',
      power: 'Power',
      fan: 'Fan speed',
      noise: 'Sound level',
      mass: 'Mass',
      length: 'Length',
      other: 'Other',
    },
  })
  reads?: string;

  @TextField({ label: 'Unit of its figures', group: 'Reading', most: 20, hint: '°C, W, rpm, dB, g, mm', column: true })
  unit?: string;

  @NumberField({ label: 'Resolution', group: 'Reading', min: 0, max: 1e6, column: true })
  resolution?: number;

  @NumberField({ label: 'Accuracy', group: 'Reading', min: 0, max: 1e6, hint: 'plus or minus, in its unit', column: true })
  accuracy?: number;

  @NumberField({ label: 'Noise floor', group: 'Reading', min: 0, max: 1e6 })
  noise_floor?: number;

  @TextField({ label: 'Serial number', group: 'Calibration', most: 80 })
  serial?: string;

  @DateField({ label: 'Calibrated on', group: 'Calibration', column: true })
  calibrated_on?: string;

  @DateField({ label: 'Calibration valid until', group: 'Calibration', column: true })
  calibrated_until?: string;

  @NumberField({ label: 'Calibration offset', group: 'Calibration', min: -1e6, max: 1e6, hint: 'to be added to its reading' })
  offset?: number;

  @Reads((text) => {
    const read = readAddress(text);
    return 'problem' in read ? read.problem : null;
  })
  @TextField({ label: 'Address', group: 'Live', hint: 'host:port of its SCPI socket, file:NAME of a log that grows, or push' })
  address?: string;

  @Reads((text) => {
    const read = readChannelMap(text);
    return 'problem' in read ? read.problem : null;
  })
  @TextField({
    label: 'Channels',
    group: 'Live',
    most: 2000,
    hint: 'such as Die 1: sensor °C = MEAS:TEMP? (@101); Room: ambient °C = MEAS:TEMP? (@201)',
  })
  channels?: string;

  @NumberField({ label: 'Asked every', unit: 's', group: 'Live', min: 0.05, max: 60, hint: '1 s where empty' })
  period_s?: number;

  @TextField({ label: 'Identity', group: 'Live', most: 80, hint: 'what its answer to *IDN? has to hold' })
  identity?: string;

  @TextField({ label: 'Switches the load on', group: 'Live', most: 80, hint: 'command such as OUTP ON, where it can' })
  switch_on?: string;

  @TextField({
    label: 'Switches the load off',
    group: 'Live',
    most: 80,
    hint: 'command such as OUTP OFF; also sent when a limit is passed',
  })
  switch_off?: string;

  @NumberField({
    label: 'Clock offset',
    unit: 's',
    group: 'Live',
    min: -1e6,
    max: 1e6,
    hint: 'to be added to its own times; told by its first reading where empty',
  })
  clock_offset_s?: number;

  @TextField({ label: 'Note', group: 'Note', most: 1000 })
  note?: string;
}
