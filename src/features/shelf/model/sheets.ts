import { readScrews } from '#core/thermal/tightening/readScrews';
import { ChoiceField, DateField, NumberField, RefField, RefsField, TextField, WholeField, YesNoField } from '#rules/fields';
import { Reads } from '#rules/rules';
import { readChannelMap } from './channelMap';
import { HEIGHTS_WORDS, readHeightsOf } from './coolerHeights';
import { KIND_NAMES } from './materials';
import { prescribedProblem, readRatio } from './prescribed';
import { readAddress } from './sourceAddress';

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
  @ChoiceField('Matter', 'Kind', { choices: MATERIAL_KINDS, column: true })
  kind?: keyof typeof MATERIAL_KINDS;

  @NumberField('Matter', 'Claimed conductivity', 'W/(m·K)', [0.01, 5000], { column: true })
  conductivity_w_per_mk?: number;

  @NumberField('Matter', 'Density', 'g/cm³', [0.1, 25])
  density_g_per_cm3?: number;

  @NumberField('Matter', 'Thickness', 'mm', [0.005, 20], 'of a pad or sheet')
  thickness_mm?: number;

  @NumberField('Matter', 'Bond line', 'µm', [1, 5000], 'After pressing, as stated.')
  bond_line_um?: number;

  @YesNoField('Handling', 'Conducts electricity')
  conducts?: boolean;

  @YesNoField('Handling', 'Safe on aluminium', { column: true })
  aluminium_safe?: boolean;

  @YesNoField('Handling', 'Contaminates what follows', 'Mounted late in its day.')
  contaminates?: boolean;

  @YesNoField('Handling', 'Permanent', 'Each mount uses up a coupon.')
  permanent?: boolean;

  @YesNoField('Handling', 'Reusable', 'One piece is used for several mounts.')
  reusable?: boolean;

  @WholeField('Handling', 'Conditioning', 'cycles', [0, 1000])
  conditioning_cycles?: number;

  @NumberField('Handling', 'Conditioning or cure', 'h', [0, 2000], { column: true, hint: 'Between assembly and first run.' })
  conditioning_h?: number;

  @NumberField('Handling', 'Pot life', 'min', [0.5, 10_000])
  pot_life_min?: number;

  @Reads((text) => (readRatio(text) ? null : 'A mixing ratio is two numbers with a colon between, such as 10 : 1 by mass.'))
  @TextField('Handling', 'Mixing ratio', 40, 'A to B, such as 1 : 1 by mass')
  mixing_ratio?: string;

  @Reads(prescribedProblem)
  @TextField(
    'Handling',
    'Prescribed amounts',
    400,
    'by its maker, such as up to 400 mm²: 100 mg, 1 dot of 4 mm; up to 1600 mm²: 5 dots of 3 mm',
  )
  amounts?: string;

  @NumberField('Handling', 'Renewed every', 'months', [0.1, 600], 'Counted in the cost over years. Empty: not renewed.')
  renew_months?: number;

  @NumberField('Price and stock', 'Pack holds', '', [0.001, 1e6])
  pack_size?: number;

  @ChoiceField('Price and stock', 'Pack unit', { choices: { g: 'g', ml: 'ml', sheets: 'sheets' } })
  pack_unit?: 'g' | 'ml' | 'sheets';

  @NumberField('Price and stock', 'One mount takes', '', [0.0001, 1e5], 'In the unit of the pack. For sheets, the cut below is used.')
  per_mount?: number;

  @NumberField('Price and stock', 'Sheet length', 'mm', [1, 5000])
  sheet_length_mm?: number;

  @NumberField('Price and stock', 'Sheet width', 'mm', [1, 5000])
  sheet_width_mm?: number;

  @NumberField('Price and stock', 'Cut length', 'mm', [0.5, 5000])
  cut_length_mm?: number;

  @NumberField('Price and stock', 'Cut width', 'mm', [0.5, 5000])
  cut_width_mm?: number;

  @NumberField('Price and stock', 'Packs bought', '', [0, 10_000])
  packs?: number;

  @NumberField('Price and stock', 'Price', '', [0, 1e6], { hint: 'of one pack', column: true })
  price?: number;

  @TextField('Price and stock', 'Currency', 3, 'three letters, such as EUR')
  currency?: string;

  @DateField('Price and stock', 'Price date', 'A report prints this date.')
  price_on?: string;

  @TextField('Note', 'Note', 1000)
  note?: string;
}

/** A bought part. */
class PricedSheet {
  @NumberField('Price', 'Price', '', [0, 1e6], { column: true })
  price?: number;

  @TextField('Price', 'Currency', 3, 'three letters, such as EUR')
  currency?: string;

  @DateField('Price', 'Price date')
  price_on?: string;

  @TextField('Note', 'Note', 1000)
  note?: string;
}

export class CoolerSheet extends PricedSheet {
  @ChoiceField('Build', 'Kind', {
    column: true,
    choices: { tower: 'Tower', flat: 'Flat', loop: 'Liquid loop', module: 'Module', heatsink: 'Heatsink', plate: 'Plate' },
  })
  kind?: string;

  @TextField('Build', 'Heatsink', 120, { column: true })
  heatsink?: string;

  @RefsField('Build', 'Fans fitted', 'fans')
  fans?: number[];

  @ChoiceField('Build', 'Base', { choices: METALS, column: true })
  base_material?: keyof typeof METALS;

  @NumberField('Build', 'Base flatness', 'µm', [0, 5000], { hint: 'Peak to valley over the contact.', column: true })
  base_flatness_um?: number;

  @ChoiceField('Mount', 'Held by', { choices: { screws: 'Screws', clip: 'Clip or clamp', bond: 'The bond itself' } })
  hold?: 'screws' | 'clip' | 'bond';

  @TextField('Mount', 'Mount screws', 120, 'count, thread, springs')
  screws?: string;

  @NumberField('Mount', 'Torque', 'N·m', [0, 50])
  torque_nm?: number;

  @NumberField('Build', 'Height', 'mm', [1, 1000], 'as its maker states it')
  height_mm?: number;

  @NumberField('Build', 'Height measured', 'mm', [1, 1000], 'from the contact to the top, fan and cables included')
  measured_height_mm?: number;

  @Reads((text) => (readHeightsOf(text) ? null : HEIGHTS_WORDS))
  @TextField('Build', 'Height by configuration', 200, 'in mm, such as with cover 44.5; without cover 41')
  heights?: string;

  @NumberField('Build', 'Mass', 'g', [1, 100_000], 'as its maker states it')
  mass_g?: number;

  @NumberField('Build', 'Mass measured', 'g', [1, 100_000])
  measured_mass_g?: number;

  @TextField('Build', 'Sounds', 200, 'Hum, rattle, whine, air.')
  sound?: string;
}

export class FanSheet extends PricedSheet {
  @NumberField('Build', 'Size', 'mm', [5, 1000], { column: true })
  size_mm?: number;

  @NumberField('Build', 'Lowest speed', 'rpm', [0, 100_000], { column: true })
  min_rpm?: number;

  @NumberField('Build', 'Highest speed', 'rpm', [1, 100_000], { column: true })
  max_rpm?: number;

  @ChoiceField('Build', 'Control', { choices: { pwm: 'Pulse width', voltage: 'Voltage', none: 'None' } })
  control?: string;
}

export class RigSheet {
  @TextField('Heat source', 'Heat source', 200, { column: true })
  heat_source?: string;

  @TextField('Heat source', 'Unit', 80, { hint: 'Serial number: two units are two devices.', column: true })
  unit_serial?: string;

  @ChoiceField('Heat source', 'Contact', { choices: { lid: 'Lid', die: 'Bare die', dies: 'Several dies', row: 'Row of parts' } })
  contact?: string;

  @NumberField('Heat source', 'Contact length', 'mm', [0.5, 1000])
  contact_length_mm?: number;

  @NumberField('Heat source', 'Contact width', 'mm', [0.5, 1000])
  contact_width_mm?: number;

  @ChoiceField('Heat source', 'Contact material', { choices: METALS })
  contact_material?: keyof typeof METALS;

  @WholeField('Heat source', 'Die sensors', '', [0, 512])
  die_sensors?: number;

  @NumberField('Heat source', 'Sensor resolution', 'K', [0.0001, 10], 'Step of the die sensors.')
  sensor_resolution_k?: number;

  @NumberField('Heat source', 'Sensor accuracy', 'K', [0, 50], 'plus or minus, by the data sheet of the part')
  sensor_accuracy_k?: number;

  @NumberField('Heat source', 'Throttle limit', '°C', [30, 300], { column: true })
  throttle_limit_c?: number;

  @NumberField('Set-points', 'Power set-point', 'W', [0, 100_000], { column: true })
  power_w?: number;

  @NumberField('Set-points', 'Clock set-point', 'MHz', [0, 100_000])
  clock_mhz?: number;

  @ChoiceField('Set-points', 'Fan control', { choices: { fixed: 'Fixed speed', noise: 'Equal noise', automatic: 'Automatic' } })
  fan_control?: string;

  @NumberField('Set-points', 'Fan target', 'rpm', [0, 100_000])
  fan_rpm?: number;

  @TextField('Set-points', 'Firmware profile', 120)
  firmware_profile?: string;

  @RefField('Build', 'Cooler as fitted', 'coolers')
  cooler_id?: number;

  @RefsField('Build', 'Instruments', 'instruments')
  instruments?: number[];

  @TextField('Build', 'Mount pattern', 120, 'screws and order')
  mount_pattern?: string;

  @Reads((text) => {
    const read = readScrews(text);
    return 'problem' in read ? read.problem : null;
  })
  @TextField('Build', 'Screw positions', 120, 'x, y in mm from the middle of the part, such as -40, -30; 40, -30; 40, 30; -40, 30')
  screw_positions?: string;

  @NumberField('Build', 'Most torque', 'N·m', [0.01, 50])
  torque_max_nm?: number;

  @NumberField('Build', 'Contact pressure', 'kPa', [1, 100_000], 'Of the cooler on the part, by its springs, a film or a load cell.')
  contact_pressure_kpa?: number;

  @TextField('Build', 'Neighbours under the cooler', 120, 'Parts whose pads are opened when the cooler is lifted, comma between.')
  neighbours?: string;

  @TextField('Build', 'Masked neighbours', 120)
  masked_neighbours?: string;

  @TextField('Surroundings', 'Enclosure', 120)
  enclosure?: string;

  @NumberField('Surroundings', 'Clearance for the cooler', 'mm', [1, 2000], 'from the contact up')
  height_room_mm?: number;

  @ChoiceField('Surroundings', 'Panels', { choices: { open: 'Open', shut: 'Shut' } })
  panels?: string;

  @TextField('Surroundings', 'Air direction', 80)
  air_direction?: string;

  @TextField('Surroundings', 'Neighbour heat', 120, 'What else warms the air.')
  neighbour_heat?: string;

  @NumberField('Live', 'Hard limit', '°C', [30, 300], 'A live run is stopped here.')
  stop_c?: number;

  @NumberField('Live', 'Steepest rise', 'K/min', [0.1, 1000], 'After the first minute of load; a steeper rise raises an alarm.')
  most_k_per_min?: number;

  @NumberField('Live', 'Speed of its clock', '', [1, 100], 'Only for a simulated bench: its seconds per second.')
  time_scale?: number;

  @WholeField('Coupons', 'Lid coupons', '', [0, 10_000], 'A permanent bond uses one up.')
  lid_coupons?: number;

  @WholeField('Coupons', 'Base coupons', '', [0, 10_000])
  base_coupons?: number;

  @TextField('Note', 'Note', 1000)
  note?: string;
}

export class InstrumentSheet {
  @ChoiceField('Reading', 'Reads', {
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

  @TextField('Reading', 'Unit of its readings', 20, { hint: '°C, W, rpm, dB, g, mm', column: true })
  unit?: string;

  @NumberField('Reading', 'Resolution', '', [0, 1e6], { column: true })
  resolution?: number;

  @NumberField('Reading', 'Accuracy', '', [0, 1e6], { hint: 'plus or minus, in its unit', column: true })
  accuracy?: number;

  @NumberField('Reading', 'Noise floor', '', [0, 1e6])
  noise_floor?: number;

  @TextField('Calibration', 'Serial number', 80)
  serial?: string;

  @DateField('Calibration', 'Calibrated on', { column: true })
  calibrated_on?: string;

  @DateField('Calibration', 'Calibration valid until', { column: true })
  calibrated_until?: string;

  @NumberField('Calibration', 'Calibration offset', '', [-1e6, 1e6], 'Added to its readings.')
  offset?: number;

  @Reads((text) => {
    const read = readAddress(text);
    return 'problem' in read ? read.problem : null;
  })
  @TextField(
    'Live',
    'Address',
    200,
    'host:port of its SCPI socket, mqtt://host, modbus://host, serial:/dev/ttyUSB0, http://host/path, file:NAME of a log that grows, or push',
  )
  address?: string;

  @Reads((text) => {
    const read = readChannelMap(text);
    return 'problem' in read ? read.problem : null;
  })
  @TextField(
    'Live',
    'Channels',
    2000,
    'Empty at first: once saved, the instrument is watched and what it sends is ticked. By hand such as Die 1: sensor °C = MEAS:TEMP? (@101); Room: ambient °C = MEAS:TEMP? (@201)',
  )
  channels?: string;

  @NumberField('Live', 'Poll interval', 's', [0.05, 60], 'Empty: 1 s.')
  period_s?: number;

  @TextField('Live', 'Identity', 80, 'Text that its answer to *IDN? must contain.')
  identity?: string;

  @TextField('Live', 'Switches the load on', 80, 'Command such as OUTP ON.')
  switch_on?: string;

  @TextField('Live', 'Switches the load off', 80, 'Command such as OUTP OFF; also sent when a limit is passed.')
  switch_off?: string;

  @NumberField('Live', 'Clock offset', 's', [-1e6, 1e6], 'Added to its own times. Empty: taken from its first reading.')
  clock_offset_s?: number;

  @TextField('Note', 'Note', 1000)
  note?: string;
}
