import { csvText } from '#core/text/csv';

/** Saves a blob under a name. */
function save(blob: Blob, name: string): void {
  const url = URL.createObjectURL(blob);
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  URL.revokeObjectURL(url);
}

/** The chart's drawing with every colour and font written out, so that it looks the same outside this page. */
function standalone(svg: SVGSVGElement): SVGSVGElement {
  const copy = svg.cloneNode(true) as SVGSVGElement;
  const sources = [svg, ...svg.querySelectorAll<SVGElement>('*')];
  const targets = [copy, ...copy.querySelectorAll<SVGElement>('*')];
  sources.forEach((source, i) => {
    const style = getComputedStyle(source);
    for (const property of ['fill', 'stroke']) {
      const value = style.getPropertyValue(property);
      if (value && value !== 'none') targets[i].setAttribute(property, plainColour(value));
    }
    if (source instanceof SVGTextElement) {
      targets[i].setAttribute('font-family', style.fontFamily);
      targets[i].setAttribute('font-size', style.fontSize);
      targets[i].setAttribute('font-weight', style.fontWeight);
    }
    targets[i].removeAttribute('class');
    targets[i].removeAttribute('style');
  });
  const { width, height } = svg.getBoundingClientRect();
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  copy.setAttribute('width', String(width));
  copy.setAttribute('height', String(height));
  const ground = document.createElementNS('http://www.w3.org/2000/svg', 'rect');
  ground.setAttribute('width', '100%');
  ground.setAttribute('height', '100%');
  ground.setAttribute('fill', plainColour(getComputedStyle(document.documentElement).backgroundColor));
  copy.prepend(ground);
  return copy;
}

/** A colour of any CSS space as plain rgb, read back from one painted pixel. */
function plainColour(colour: string): string {
  if (/^(rgb|#)/.test(colour)) return colour;
  const context = document.createElement('canvas').getContext('2d');
  if (!context) return colour;
  context.fillStyle = colour;
  context.fillRect(0, 0, 1, 1);
  const [r, g, b, a] = context.getImageData(0, 0, 1, 1).data;
  return a === 255 ? `rgb(${r}, ${g}, ${b})` : `rgba(${r}, ${g}, ${b}, ${(a / 255).toFixed(3)})`;
}

export function saveSvg(svg: SVGSVGElement, name: string): void {
  save(new Blob([new XMLSerializer().serializeToString(standalone(svg))], { type: 'image/svg+xml' }), `${name}.svg`);
}

/** Twice the size on screen, for print. */
export async function savePng(svg: SVGSVGElement, name: string): Promise<void> {
  const copy = standalone(svg);
  const { width, height } = svg.getBoundingClientRect();
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(new XMLSerializer().serializeToString(copy))}`;
  await image.decode();
  const canvas = document.createElement('canvas');
  canvas.width = 2 * width;
  canvas.height = 2 * height;
  canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height);
  const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/png'));
  if (blob) save(blob, `${name}.png`);
}

export function saveCsv(table: ChartTable, name: string): void {
  save(new Blob([csvText([table.columns, ...table.rows])], { type: 'text/csv' }), `${name}.csv`);
}

/** The figures behind a chart. */
export interface ChartTable {
  columns: string[];
  rows: (string | number | null)[][];
}

/** Saves a text as a file of its kind. */
export function saveText(text: string, name: string, type: string): void {
  save(new Blob([text], { type }), name);
}
