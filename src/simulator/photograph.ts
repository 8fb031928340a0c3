import { seededRandom } from '#core/stats/random';

/** A made-up print of material on a face, and the photograph taken of it. Lengths in mm from the part's centre, y upwards. */
export interface ImprintScene {
  seed: number;
  length_mm: number;
  width_mm: number;
  /** share of the part to be covered */
  cover: number;
  centre: { x: number; y: number };
  /** exponent of its outline: 2 an ellipse, more ever squarer */
  squareness: number;
  /** length over width of its outline */
  stretch: number;
  /** how far its outline wanders, as a share of its radius */
  ragged: number;
  voids: { x: number; y: number; rx: number; ry: number }[];
  /** faint material dragged along this direction; null for none */
  smear: { angle: number; length: number; opacity: number } | null;
  /** linear light that comes back of red, green and blue */
  material: [number, number, number];
  metal: [number, number, number];
  /** what is seen around the part; the metal itself where it is a larger base */
  around: [number, number, number];
  /** scatter of the metal's brushing and of the material's peaks, as a share */
  texture: { metal: number; material: number };
  /** light across, up and outwards, in log light over half the part */
  light: { x: number; y: number; out: number };
  glare: { x: number; y: number; radius: number; strength: number }[];
  /** of the camera from straight above, and the direction it leans to; turn about its axis; degrees */
  tilt: number;
  lean: number;
  turn: number;
  /** true where the face was turned over to be photographed */
  mirrored: boolean;
  /** standard deviation of a pixel, of 255 levels */
  noise: number;
  /** width over which the material thins out at its edge, mm; 0.3 where left out */
  edge_mm?: number;
  /** times the exposure at which nothing is clipped; 1 where left out */
  exposure?: number;
}

export interface TrueImprint {
  cover: number;
  void_share: number;
  offset: { x: number; y: number };
}

export interface Photograph {
  width: number;
  height: number;
  /** 8-bit sRGB with alpha */
  data: Uint8ClampedArray;
  /** of the part: upper left, upper right, lower right, lower left as they are seen */
  corners: { x: number; y: number }[];
  truth: TrueImprint;
}

/** Draws a photograph ray by ray through a pinhole camera. The same scene gives the same picture. */
export function photograph(scene: ImprintScene, width: number, height: number): Photograph {
  const random = seededRandom(scene.seed);
  const outline = outlineOf(scene, random.uniform);
  const ground = { brush: noiseField(random.uniform), peaks: noiseField(random.uniform), thick: noiseField(random.uniform) };
  const camera = cameraOf(scene, width, height);
  const data = new Uint8ClampedArray(4 * width * height);
  const half = { x: scene.length_mm / 2, y: scene.width_mm / 2 };
  // exposed as a camera does: nothing is clipped but a lamp's mirror image
  const brightest =
    Math.exp(Math.abs(scene.light.x) + Math.abs(scene.light.y) + Math.max(0, 2 * scene.light.out)) *
    Math.max(...scene.material, ...scene.metal);
  const exposure = ((scene.exposure ?? 1) * 0.8) / brightest;
  const base = scene.around.every((v, i) => v === scene.metal[i]);
  for (let v = 0; v < height; v++) {
    for (let u = 0; u < width; u++) {
      const seen = camera.look(u + 0.5, v + 0.5);
      const x = scene.mirrored ? -seen.x : seen.x;
      const { y } = seen;
      const onPart = Math.abs(x) <= half.x && Math.abs(y) <= half.y;
      const opacity = onPart || base ? outline.opacity(x, y) : 0;
      const brush = 1 + scene.texture.metal * ground.brush(0.6 * seen.x, 9 * y);
      const peaks = 1 + scene.texture.material * (0.6 * ground.peaks(1.3 * x, 1.3 * y) + 0.4 * ground.thick(0.2 * x, 0.2 * y));
      const under = onPart || base ? scene.metal : scene.around;
      const r2 = Math.min(3, (seen.x / half.x) ** 2 + (y / half.y) ** 2);
      const lit = Math.exp((scene.light.x * seen.x) / half.x + (scene.light.y * y) / half.y + scene.light.out * r2);
      let lamp = 0;
      for (const g of scene.glare) lamp += g.strength * Math.exp(-((seen.x - g.x) ** 2 + (y - g.y) ** 2) / (2 * g.radius ** 2));
      const at = 4 * (v * width + u);
      for (let c = 0; c < 3; c++) {
        const light = lit * (opacity * scene.material[c] * peaks + (1 - opacity) * under[c] * brush) + lamp;
        data[at + c] = encode(exposure * light) + scene.noise * random.normal();
      }
      data[at + 3] = 255;
    }
  }
  const corners = [
    [-1, 1],
    [1, 1],
    [1, -1],
    [-1, -1],
  ].map(([sx, sy]) => camera.project(sx * half.x, sy * half.y));
  return { width, height, data, corners, truth: outline.truth };
}

/** A scene of the kinds that happen, by its number. */
export function someScene(seed: number, part = { length_mm: 37, width_mm: 37 }): ImprintScene {
  const { uniform } = seededRandom(7919 * seed + 17);
  const between = (a: number, b: number) => a + (b - a) * uniform();
  const metals: ImprintScene['metal'][] = [
    [0.5, 0.47, 0.43],
    [0.62, 0.36, 0.25],
    [0.4, 0.4, 0.42],
  ];
  const materials: ImprintScene['material'][] = [
    [0.14, 0.15, 0.17],
    [0.82, 0.83, 0.85],
    [0.12, 0.2, 0.32],
    [0.2, 0.19, 0.18],
    [0.75, 0.55, 0.6],
  ];
  const metal = metals[Math.floor(between(0, metals.length))];
  const material = materials[Math.floor(between(0, materials.length))];
  const cover = between(0.35, 0.99);
  const reach = 0.12 * (1.2 - cover) * part.length_mm;
  const centre = { x: between(-reach, reach), y: between(-reach, reach) };
  const voids = Array.from({ length: Math.floor(between(0, 6)) }, () => ({
    x: centre.x + between(-0.18, 0.18) * part.length_mm,
    y: centre.y + between(-0.18, 0.18) * part.width_mm,
    rx: between(0.5, 1.8),
    ry: between(0.5, 1.8),
  })).filter((v, i, all) =>
    all.slice(0, i).every((w) => Math.hypot(v.x - w.x, v.y - w.y) > 1.2 * (Math.max(v.rx, v.ry) + Math.max(w.rx, w.ry))),
  );
  return {
    ...{ seed, ...part, cover, centre, voids, material, metal },
    squareness: between(2, 5),
    stretch: between(0.8, 1.25),
    ragged: between(0.01, 0.08),
    smear: uniform() < 0.4 ? { angle: between(0, 2 * Math.PI), length: between(2, 6), opacity: between(0.1, 0.3) } : null,
    around: uniform() < 0.4 ? metal : [0.03, 0.09, 0.05],
    texture: { metal: between(0.02, 0.1), material: between(0.03, 0.12) },
    light: { x: between(-0.35, 0.35), y: between(-0.35, 0.35), out: between(-0.25, 0.05) },
    glare: uniform() < 0.5 ? [{ x: between(-12, 12), y: between(-12, 12), radius: between(0.8, 2), strength: between(0.8, 2.5) }] : [],
    tilt: between(0, 35),
    lean: between(0, 360),
    turn: between(-20, 20),
    mirrored: uniform() < 0.5,
    noise: between(1, 4),
  };
}

/**
 * The material's outline, grown until it covers what it should; opacity is 0 to 1, and half counts as covered.
 * The outline is drawn in one walk around the face.
 */
function outlineOf(scene: ImprintScene, uniform: () => number) {
  const waves = Array.from({ length: 7 }, (_, k) => ({ n: k + 2, a: (uniform() - 0.5) / (k + 1), phase: 2 * Math.PI * uniform() }));
  const { centre, squareness: p, stretch, ragged, smear, voids } = scene;
  const STEPS = 1440;
  /** radius of the outline by its direction, for a radius of one */
  const reach = Float64Array.from({ length: STEPS + 1 }, (_, i) => {
    const angle = (2 * Math.PI * i) / STEPS - Math.PI;
    const wander = 1 + ragged * waves.reduce((sum, w) => sum + w.a * Math.cos(w.n * angle + w.phase), 0);
    return wander / (Math.abs(Math.cos(angle)) ** p + Math.abs(Math.sin(angle)) ** p) ** (1 / p);
  });
  /** distance from the outline as a share of its radius: below 1 inside */
  const far = (x: number, y: number, radius: number) => {
    const dx = (x - centre.x) / Math.sqrt(stretch);
    const dy = (y - centre.y) * Math.sqrt(stretch);
    const at = ((Math.atan2(dy, dx) + Math.PI) / (2 * Math.PI)) * STEPS;
    const i = Math.min(STEPS - 1, Math.floor(at));
    return Math.sqrt(dx * dx + dy * dy) / (radius * (reach[i] + (at - i) * (reach[i + 1] - reach[i])));
  };
  const edge_mm = scene.edge_mm ?? 0.3;
  const soft = (inside: number) => Math.max(0, Math.min(1, 0.5 + inside / edge_mm));
  const bubble = (x: number, y: number) =>
    voids.reduce((least, v) => Math.min(least, (Math.hypot((x - v.x) / v.rx, (y - v.y) / v.ry) - 1) * Math.min(v.rx, v.ry)), 9);
  const count = (radius: number, n: number) => {
    let covered = 0;
    let bubbles = 0;
    let sx = 0;
    let sy = 0;
    for (let i = 0; i < n * n; i++) {
      const x = (((i % n) + 0.5) / n - 0.5) * scene.length_mm;
      const y = ((Math.floor(i / n) + 0.5) / n - 0.5) * scene.width_mm;
      if (far(x, y, radius) > 1) continue;
      if (bubble(x, y) < 0) {
        bubbles++;
        continue;
      }
      covered++;
      sx += x;
      sy += y;
    }
    return {
      cover: covered / n ** 2,
      void_share: bubbles / n ** 2,
      offset: { x: sx / Math.max(1, covered), y: sy / Math.max(1, covered) },
    };
  };
  let low = 0;
  let high = 2 * Math.max(scene.length_mm, scene.width_mm);
  for (let k = 0; k < 16; k++) {
    const middle = (low + high) / 2;
    if (count(middle, 120).cover < scene.cover) low = middle;
    else high = middle;
  }
  const radius = (low + high) / 2;
  const opacity = (x: number, y: number) => {
    const film = Math.min(soft((1 - far(x, y, radius)) * radius), soft(bubble(x, y)));
    if (!smear || film > smear.opacity) return film;
    // what was dragged: faint where the outline, moved along, has been
    for (const step of [0.5, 1]) {
      const bx = x - step * smear.length * Math.cos(smear.angle);
      const by = y - step * smear.length * Math.sin(smear.angle);
      if (far(bx, by, radius) < 1 && Math.sin(3.1 * (x * Math.sin(smear.angle) - y * Math.cos(smear.angle))) > 0)
        return Math.max(film, smear.opacity);
    }
    return film;
  };
  return { opacity, truth: count(radius, 500) };
}

/** A pinhole camera that looks at the part's middle from its tilt. */
function cameraOf({ tilt, lean, turn, length_mm, width_mm }: ImprintScene, width: number, height: number) {
  const rad = Math.PI / 180;
  const far = 6 * Math.max(length_mm, width_mm);
  const f = (0.86 * Math.min(width, height) * far) / Math.hypot(length_mm, width_mm);
  const [ct, st] = [Math.cos(tilt * rad), Math.sin(tilt * rad)];
  const [cl, sl] = [Math.cos(lean * rad), Math.sin(lean * rad)];
  const [cr, sr] = [Math.cos(turn * rad), Math.sin(turn * rad)];
  // Rodrigues' rotation about an axis that lies in the part, after a turn about the line of sight
  const lean3 = (x: number, y: number): [number, number, number] => {
    const along = x * cl + y * sl;
    return [x * ct + cl * along * (1 - ct), y * ct + sl * along * (1 - ct), st * (cl * y - sl * x)];
  };
  const turned = (x: number, y: number) => lean3(cr * x - sr * y, -(sr * x + cr * y));
  const ex = turned(1, 0);
  const ey = turned(0, 1);
  const normal = [ex[1] * ey[2] - ex[2] * ey[1], ex[2] * ey[0] - ex[0] * ey[2], ex[0] * ey[1] - ex[1] * ey[0]];
  return {
    look(u: number, v: number) {
      const ray = [(u - width / 2) / f, (v - height / 2) / f, 1];
      const t = (normal[2] * far) / (normal[0] * ray[0] + normal[1] * ray[1] + normal[2] * ray[2]);
      const at = [t * ray[0], t * ray[1], t * ray[2] - far];
      return { x: at[0] * ex[0] + at[1] * ex[1] + at[2] * ex[2], y: at[0] * ey[0] + at[1] * ey[1] + at[2] * ey[2] };
    },
    project(x: number, y: number) {
      const z = far + x * ex[2] + y * ey[2];
      return { x: width / 2 + (f * (x * ex[0] + y * ey[0])) / z, y: height / 2 + (f * (x * ex[1] + y * ey[1])) / z };
    },
  };
}

/** Smooth noise of about unit scatter over a plane, by a lattice of random values. */
function noiseField(uniform: () => number): (x: number, y: number) => number {
  const n = 64;
  const lattice = Float32Array.from({ length: n * n }, () => 3.2 * (uniform() - 0.5));
  const ease = (t: number) => t * t * (3 - 2 * t);
  return (x, y) => {
    const [i, j] = [Math.floor(x), Math.floor(y)];
    const [a, b] = [ease(x - i), ease(y - j)];
    const value = (p: number, q: number) => lattice[(((q % n) + n) % n) * n + (((p % n) + n) % n)];
    return (1 - a) * ((1 - b) * value(i, j) + b * value(i, j + 1)) + a * ((1 - b) * value(i + 1, j) + b * value(i + 1, j + 1));
  };
}

/** sRGB levels of linear light from 0 to 1, in small steps. */
const LEVELS = Float32Array.from({ length: 8193 }, (_, i) => {
  const l = i / 8192;
  return 255 * (l <= 0.0031308 ? 12.92 * l : 1.055 * l ** (1 / 2.4) - 0.055);
});

const encode = (light: number): number => LEVELS[Math.round(8192 * Math.max(0, Math.min(1, light)))];
