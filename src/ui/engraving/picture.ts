/**
 * The engraver's text as nodes: parsed as XML, in which nothing can run. The
 * one place where it enters the page.
 *
 * @param own put before all ids, so that the same notes may stand twice on a page
 * @returns null where it is not a picture, or holds what a picture has no need of
 */
export function pictureOf(svg: string, own = ''): SVGSVGElement | null {
  // Rules of its own style name the picture by its id, which the first rule begins with.
  const root = /<style[^>]*>(#[\w-]+) /.exec(svg)?.[1];
  const prefixed = root && own ? svg.replaceAll(`${root} `, `#${own}${root.slice(1)} `) : svg;
  const text = own ? prefixed.replace(/( id="| href="#|-(?:start|end)id="#)/g, `$1${own}`) : svg;
  const { documentElement: parsed } = new DOMParser().parseFromString(text, 'image/svg+xml');
  if (!(parsed instanceof SVGSVGElement) || parsed.querySelector('script, foreignObject')) return null;
  return document.importNode(parsed, true);
}

/** From the highest to the lowest line of the staves of a part, in the picture's own lengths. */
interface Range {
  top: number;
  foot: number;
}

/**
 * Cuts the picture of one system into a picture for each part, all on the
 * same axis: what stood at one place in the system stands at one place in all.
 *
 * @param staves of each part, from the top down
 */
export function cutByParts(system: SVGSVGElement, staves: readonly number[]): SVGSVGElement[] {
  const partOfStaff = staves.flatMap((count, part) => Array<number>(count).fill(part));
  const holder = system.querySelector('g.system');
  if (!holder) return staves.map(() => system.cloneNode(true) as SVGSVGElement);
  const ranges = rangesOf(holder, partOfStaff, staves.length);
  const parts = [...holder.childNodes];
  holder.replaceChildren();
  const pictures = staves.map(() => system.cloneNode(true) as SVGSVGElement);
  const holders = pictures.map((picture) => picture.querySelector('g.system')!);

  const partOfNote = new Map<string, number>();
  for (const measure of parts)
    if (measure instanceof Element)
      [...measure.querySelectorAll('g.staff')].forEach((staff, index) => {
        const part = partOfStaff[index];
        if (part === undefined) return;
        for (const named of staff.querySelectorAll('[id]')) partOfNote.set(named.id, part);
      });

  for (const child of parts) {
    if (!(child instanceof Element)) continue;
    if (!child.classList.contains('measure')) {
      deal(child, holders, ranges);
      continue;
    }
    const measures = holders.map((to) => to.appendChild(child.cloneNode(false) as Element));
    let staff = 0;
    for (const each of [...child.children]) {
      if (each.classList.contains('staff')) measures[partOfStaff[staff++] ?? 0]?.append(each);
      else if (each.classList.contains('barLine')) dealOut(each, measures, ranges);
      else if (!each.classList.contains('mNum'))
        measures[ownerOf(each, partOfStaff, partOfNote)]?.append(each);
    }
  }
  return pictures;
}

/** What hangs on a bar says its staff, or its first or last note; else it is the first part's. */
function ownerOf(
  element: Element,
  partOfStaff: readonly number[],
  partOfNote: ReadonlyMap<string, number>,
): number {
  const staff = Number.parseInt(element.getAttribute('data-staff') ?? '', 10);
  const ends = ['data-startid', 'data-endid'].map((name) => element.getAttribute(name)?.slice(1) ?? '');
  const byNote = ends.map((id) => partOfNote.get(id)).find((part) => part !== undefined);
  return byNote ?? partOfStaff[staff - 1] ?? 0;
}

/** The ranges of parts, by the lines of the staves of the first bar. */
function rangesOf(holder: Element, partOfStaff: readonly number[], count: number): Range[] {
  const ranges = Array.from({ length: count }, () => ({
    top: Number.POSITIVE_INFINITY,
    foot: Number.NEGATIVE_INFINITY,
  }));
  [...(holder.querySelector('g.measure')?.querySelectorAll(':scope > g.staff') ?? [])].forEach(
    (staff, index) => {
      const range = ranges[partOfStaff[index] ?? -1];
      if (!range) return;
      for (const line of staff.querySelectorAll(':scope > path'))
        for (const y of heightsOf(line)) {
          range.top = Math.min(range.top, y);
          range.foot = Math.max(range.foot, y);
        }
    },
  );
  return ranges;
}

/** Where a line, a dot or a glyph lies: the heights of all its points. */
function heightsOf(element: Element): number[] {
  const numbers = (name: string, pattern: RegExp) =>
    [...(element.getAttribute(name) ?? '').matchAll(pattern)].map((found) => Number(found[1]));
  return [
    ...numbers('d', /-?[\d.]+[ ,](-?[\d.]+)/g),
    ...numbers('cy', /(-?[\d.]+)/g),
    ...numbers('transform', /translate\(-?[\d.]+, (-?[\d.]+)\)/g),
  ];
}

/** Gives each piece of a bar line to the part that it crosses; what joins two parts goes. */
function dealOut(group: Element, to: readonly Element[], ranges: readonly Range[]): void {
  const groups = to.map((each) => each.appendChild(group.cloneNode(false) as Element));
  for (const piece of [...group.children]) {
    const heights = heightsOf(piece);
    const owner = ranges.findIndex(({ top, foot }) => heights.every((y) => y >= top && y <= foot));
    groups[owner]?.append(piece);
  }
}

/** What stands before the first bar: the line along all staves is cut, a brace goes to its part. */
function deal(element: Element, to: readonly Element[], ranges: readonly Range[]): void {
  if (element.tagName === 'path') {
    const x = /^M(-?[\d.]+)/.exec(element.getAttribute('d') ?? '')?.[1];
    to.forEach((each, part) => {
      const line = each.appendChild(element.cloneNode(false) as Element);
      line.setAttribute('d', `M${x} ${ranges[part]?.top} L${x} ${ranges[part]?.foot}`);
    });
    return;
  }
  const heights = [...element.querySelectorAll('*')].flatMap(heightsOf);
  const middle = (Math.min(...heights) + Math.max(...heights)) / 2;
  const owner = ranges.findIndex(({ top, foot }) => middle > top && middle < foot);
  to[owner]?.append(element);
}

/** Least room between a tempo and a rehearsal mark beside it, in the engraver's lengths: a staff space. */
const BESIDE = 180;

/** Lifts rehearsal marks that touch a tempo beside them: the engraver only parts what overlaps. */
function partMarks(page: SVGGElement): void {
  const tempos = [...page.querySelectorAll<SVGGElement>('g.tempo')].map((each) => each.getBBox());
  for (const mark of page.querySelectorAll<SVGGElement>('g.reh')) {
    const box = mark.getBBox();
    const beside = tempos.find(
      (tempo) =>
        box.x < tempo.x + tempo.width + BESIDE &&
        tempo.x < box.x + box.width + BESIDE &&
        box.y < tempo.y + tempo.height &&
        tempo.y < box.y + box.height,
    );
    if (beside) mark.setAttribute('transform', `translate(0, ${beside.y - box.y - box.height - BESIDE / 3})`);
  }
}

/** Trims the picture to what is drawn in it; it must be on the page. @param air kept above and below, in its own lengths */
export function trim(picture: SVGSVGElement, air: number): void {
  const inner = picture.querySelector<SVGSVGElement>('svg.definition-scale');
  const page = inner?.querySelector<SVGGElement>('g.page-margin');
  if (!inner || !page) return;
  partMarks(page);
  const { y, height } = page.getBBox();
  const { width, height: whole } = inner.viewBox.baseVal;
  const down = page.transform.baseVal.consolidate()?.matrix.f ?? 0;
  const perUnit = picture.height.baseVal.value / whole;
  inner.setAttribute('viewBox', `0 ${y + down - air} ${width} ${height + 2 * air}`);
  picture.setAttribute('height', `${(height + 2 * air) * perUnit}px`);
}
