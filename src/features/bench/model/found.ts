/** What can be found and gone to. */
export interface Found {
  kind: string;
  /** what it is called */
  name: string;
  /** whose it is, or what is known of it; empty where nothing is */
  about: string;
  href: string;
}

/** Places that are always there, with the words one may look for them by. */
const PLACES: (Found & { words: string })[] = [
  { kind: 'Place', name: 'Bench', about: 'what to do now', href: '/', words: 'start home queue rigs' },
  { kind: 'Place', name: 'Studies', about: 'all questions with their verdicts', href: '/studies', words: 'list' },
  {
    kind: 'Place',
    name: 'Measure this machine',
    about: 'a first run without a plan',
    href: '/measure',
    words: 'agent live load hold power processor self',
  },
  {
    kind: 'Place',
    name: 'Help',
    about: 'terms, keys, version',
    href: '/help',
    words: 'glossary explain what is licence about shortcuts',
  },
  {
    kind: 'Place',
    name: 'Settings',
    about: 'dates, times, sound, defaults of new studies',
    href: '/settings',
    words: 'units zone currency preferences options',
  },
  {
    kind: 'Place',
    name: 'Ranking',
    about: 'what all studies together say of materials and coolers',
    href: '/ranking',
    words: 'best compare overall prediction next study part labs',
  },
  { kind: 'Place', name: 'Bin', about: 'what was deleted', href: '/bin', words: 'trash deleted restore undo' },
  {
    kind: 'Place',
    name: 'Log formats',
    about: 'how files with known headers are read',
    href: '/layouts',
    words: 'layouts columns roles import',
  },
  {
    kind: 'Place',
    name: 'How often this holds',
    about: 'error rates measured by simulation',
    href: '/checked',
    words: 'calibration coverage false alarm',
  },
  { kind: 'Shelf', name: 'Materials', about: 'sheets, prices and stock', href: '/shelf/materials', words: 'paste pad stock price lot' },
  { kind: 'Shelf', name: 'Coolers', about: 'sheets', href: '/shelf/coolers', words: 'tower heatsink torque' },
  { kind: 'Shelf', name: 'Fans', about: 'sheets', href: '/shelf/fans', words: 'rpm' },
  {
    kind: 'Shelf',
    name: 'Rigs',
    about: 'devices and fixed set-ups, with their limits',
    href: '/shelf/rigs',
    words: 'bench device limit throttle',
  },
  {
    kind: 'Shelf',
    name: 'Instruments',
    about: 'with calibration and address',
    href: '/shelf/instruments',
    words: 'probe thermometer meter calibration',
  },
  { kind: 'Tool', name: 'Dose', about: 'how much of a material', href: '/tools/dose', words: 'amount volume mass' },
  {
    kind: 'Tool',
    name: 'Stack',
    about: 'where the kelvins go, from the die to the room',
    href: '/tools/stack',
    words: 'layers resistance',
  },
  { kind: 'Tool', name: 'Flatness', about: 'heights of a face', href: '/tools/flatness', words: 'peak valley lapping' },
  { kind: 'Tool', name: 'Tightening', about: 'order and torque of the screws', href: '/tools/tightening', words: 'screws torque pattern' },
  { kind: 'Tool', name: 'Imprint', about: 'coverage from a photograph', href: '/tools/print', words: 'print coverage photograph voids' },
  { kind: 'Tool', name: 'Noise', about: 'equal noise, bands', href: '/tools/noise', words: 'sound level dB decibel' },
  {
    kind: 'Tool',
    name: 'Probes',
    about: 'what each thermometer reads too high',
    href: '/tools/probes',
    words: 'compare calibration offset gain sensor',
  },
  { kind: 'Tool', name: 'Transient', about: 'layers from a cooling curve', href: '/tools/transient', words: 'structure function step' },
  { kind: 'Tool', name: 'Conductivity', about: 'from several thicknesses', href: '/tools/conductivity', words: 'thickness bond line' },
];

const plain = (text: string): string => text.toLowerCase();

/** Places whose name or words hold each word that is looked for; those whose name begins so come first. */
export function findPlaces(query: string): Found[] {
  const words = plain(query).split(/\s+/).filter(Boolean);
  if (words.length === 0) return [];
  return PLACES.filter((p) => words.every((w) => plain(`${p.name} ${p.about} ${p.words}`).includes(w)))
    .sort((a, b) => Number(plain(b.name).startsWith(words[0])) - Number(plain(a.name).startsWith(words[0])))
    .map(({ words: _, ...found }) => found);
}
