/** Properties that make the strand look as it does; a picture that leaves the page has to carry them. */
const looks = [
  'fill',
  'stroke',
  'color',
  'stroke-width',
  'stroke-dasharray',
  'stroke-linecap',
  'stroke-linejoin',
];

/** The strand's drawing as an SVG document of its own, with a title and the rows' text next to the knots. */
export function strandSvg(list: Element): { text: string; width: number; height: number } {
  const drawing = list.querySelector('svg')!;
  const copy = drawing.cloneNode(true) as SVGSVGElement;
  const originals = drawing.querySelectorAll('*');
  copy.querySelectorAll('*').forEach((element, i) => {
    const style = getComputedStyle(originals[i]!);
    for (const name of looks) {
      const value = style.getPropertyValue(name);
      if (value && !(name === 'fill' && value.startsWith('url'))) element.setAttribute(name, value);
    }
  });
  const page = getComputedStyle(document.body);
  const surface = getComputedStyle(list.closest('section') ?? document.body).backgroundColor;
  const box = drawing.getBoundingClientRect();
  const width = Math.round(list.getBoundingClientRect().width);
  const height = Math.round(box.height) + 40;
  const rows = [...list.querySelectorAll('li')].map((row) => {
    const at = row.getBoundingClientRect();
    const y = at.top - box.top + at.height / 2;
    const lines = [...row.querySelectorAll('strong, em, small')].map((part) => part.textContent ?? '');
    return `<text x="${Math.round(box.width + 14)}" y="${Math.round(y)}" font-size="15">${lines
      .map(
        (line, i) =>
          `<tspan x="${Math.round(box.width + 14)}" dy="${i === 0 ? -8 : 18}">${escape(line)}</tspan>`,
      )
      .join('')}</text>`;
  });
  const title = escape(list.getAttribute('aria-label') ?? 'A strand');
  copy.setAttribute('x', '0');
  copy.setAttribute('y', '32');
  const text =
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}" font-family="${escape(page.fontFamily)}" fill="${page.color}">` +
    `<title>${title}</title><rect width="${width}" height="${height}" fill="${surface}"/>` +
    `<text x="12" y="22" font-size="17" font-weight="600">${title}</text>` +
    `${new XMLSerializer().serializeToString(copy)}<g transform="translate(0 32)">${rows.join('')}</g></svg>`;
  return { text, width, height };
}

const escape = (text: string): string =>
  text.replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[sign]!);

/** The same as a PNG, twice as fine. */
export async function strandPng(list: Element): Promise<Blob> {
  const { text, width, height } = strandSvg(list);
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(text)}`;
  await image.decode();
  const canvas = document.createElement('canvas');
  canvas.width = width * 2;
  canvas.height = height * 2;
  const context = canvas.getContext('2d')!;
  context.scale(2, 2);
  context.drawImage(image, 0, 0);
  return new Promise((resolve, reject) =>
    canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error('the picture could not be made')))),
  );
}
