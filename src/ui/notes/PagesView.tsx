'use client';

import { FilePdfOutlined, PrinterOutlined } from '@ant-design/icons';
import { App, Button, Checkbox, Progress, Segmented, Select } from 'antd';
import { useEffect, useMemo, useState } from 'react';
import { createPortal, flushSync } from 'react-dom';
import { counted } from '../../core/basics/words';
import {
  PAPERS,
  PART_STAFF,
  type PageFormat,
  type PagePlan,
  type Paper,
  pageSize,
  planPages,
  SCORE_STAFF,
  STAFF_SIZES,
} from '../../core/engrave/pages';
import type { PartId } from '../../core/model/ids';
import type { PdfRequest } from '../../server/pdf';
import { saveFile } from '../common/saveFile';
import { useSize } from '../common/useSize';
import { Engraving } from '../engraving/Engraving';
import { engrave } from '../engraving/engrave';
import { usePitchView } from '../engraving/pitchView';
import { useOfScore, useSession } from '../job/session';
import styles from './PagesView.module.css';
import { countSystems, LOOSER, LOOSEST, SPACE_AT_100 } from './ScoreView';

/** Pixels of a millimetre (CSS Values 3: 96 pixels to the inch). */
const MM = 96 / 25.4;
/** Millimetres at the head of the first page, of every other, and at the foot. */
const FIRST_HEAD = 24;
const HEAD = 9;
const FOOT = 7;
/** Staff heights between systems. */
const GAP = { least: 0.6, most: 2.4 };
/** A staff has four spaces. */
const SPACES = 4;
/** A system that is too high for its page is drawn so much smaller that the page has air. */
const AIR = 0.97;
const NO_SYSTEMS: readonly { from: number; to: number }[] = [];

const heightOf = (svg: string): number => Number(/<svg[^>]* height="([\d.]+)px"/.exec(svg)?.[1] ?? 0);

type Zoom = 'width' | 'page' | 'paper';

/** The score as it comes out on paper, page by page, to look at and to print. */
export function PagesView({ parts }: { parts: readonly PartId[] }) {
  const { summary, job } = useSession('summary', 'job');
  const { notification } = App.useApp();
  const { concert } = usePitchView();
  const [chosen, setFormat] = useState<Omit<PageFormat, 'staff'> & { staff: number | null }>({
    paper: 'A4',
    landscape: false,
    staff: null,
    margin: 14,
  });
  const format: PageFormat = {
    ...chosen,
    staff: chosen.staff ?? (parts.length === 1 ? PART_STAFF : SCORE_STAFF),
  };
  const [zoom, setZoom] = useState<Zoom>('width');
  const made = useSystems(parts, format);
  const { page, head, pages, svgs, done, of, staff } = made;
  const [box, setBox] = useState<HTMLDivElement | null>(null);
  const around = useMemo(() => ({ current: box }), [box]);
  const size = useSize(around);
  const factor =
    zoom === 'paper'
      ? 1
      : Math.min(
          (size.width - 40) / (page.width * MM),
          zoom === 'page' ? (size.height - 40) / (page.height * MM) : 2,
        );
  const shown = summary?.parts.filter(({ id }) => parts.includes(id)) ?? [];
  const name = shown.length === 1 ? shown[0]!.name : '';
  const sheets = (own: string) =>
    pages.map((plan, index) => (
      <Sheet
        key={`page ${index + 1}`}
        plan={plan}
        svgs={svgs}
        number={index + 1}
        title={summary?.title ?? ''}
        name={name}
        pitch={concert && shown.length > 1 ? 'Score in concert pitch' : ''}
        format={format}
        head={head}
        own={own}
      />
    ));
  const [printing, setPrinting] = useState(false);
  const print = () => {
    flushSync(() => setPrinting(true));
    void document.fonts.ready.then(() => {
      window.print();
      setPrinting(false);
    });
  };
  const [making, setMaking] = useState(false);
  const makePdf = async () => {
    setMaking(true);
    try {
      const request = pdfRequest({
        plans: pages,
        svgs,
        title: summary?.title ?? '',
        name,
        pitch: concert && shown.length > 1 ? 'Score in concert pitch' : '',
        format,
        head,
      });
      const answer = await fetch('/pdf', { method: 'POST', body: JSON.stringify(request) });
      if (!answer.ok) throw new Error(await answer.text());
      saveFile(`${[summary?.title || job.title, name].filter(Boolean).join(' – ')}.pdf`, await answer.blob());
    } catch (error) {
      notification.error({ title: 'The PDF was not made', description: (error as Error).message });
    } finally {
      setMaking(false);
    }
  };
  return (
    <div className={styles.view}>
      <div className={styles.tools} role="toolbar" aria-label="Pages">
        <Select<Paper>
          size="small"
          aria-label="Paper"
          value={chosen.paper}
          options={(Object.keys(PAPERS) as Paper[]).map((value) => ({ value, label: value }))}
          onChange={(paper) => setFormat((before) => ({ ...before, paper }))}
        />
        <Checkbox
          checked={chosen.landscape}
          onChange={(event) => setFormat((before) => ({ ...before, landscape: event.target.checked }))}
        >
          Landscape
        </Checkbox>
        <Select<number>
          size="small"
          aria-label="Height of a staff"
          popupMatchSelectWidth={false}
          value={chosen.staff ?? 0}
          options={[
            { value: 0, label: `${format.staff} mm staff, as usual` },
            ...STAFF_SIZES.map((value) => ({ value, label: `${value} mm staff` })),
          ]}
          onChange={(value) => setFormat((before) => ({ ...before, staff: value || null }))}
        />
        <Select<number>
          size="small"
          aria-label="Margin"
          value={chosen.margin}
          options={[8, 10, 12, 14, 16, 20, 25].map((value) => ({ value, label: `${value} mm margin` }))}
          onChange={(margin) => setFormat((before) => ({ ...before, margin }))}
        />
        <Segmented<Zoom>
          size="small"
          aria-label="Size on the screen"
          value={zoom}
          options={[
            { value: 'width', label: 'Width' },
            { value: 'page', label: 'Page' },
            { value: 'paper', label: 'As on paper' },
          ]}
          onChange={setZoom}
        />
        <Button size="small" icon={<PrinterOutlined />} disabled={done < of || of === 0} onClick={print}>
          Print…
        </Button>
        <Button
          size="small"
          icon={<FilePdfOutlined />}
          loading={making}
          disabled={done < of || of === 0}
          onClick={() => void makePdf()}
        >
          PDF
        </Button>
        <span className="soft" role="status">
          {done < of ? (
            <>
              <Progress type="circle" size={16} percent={(100 * done) / of} /> {done} of{' '}
              {counted(of, 'system')}
            </>
          ) : (
            `${counted(pages.length, 'page')}${staff < format.staff ? `; staves ${staff.toFixed(1)} mm, so that a system fits a page` : ''}`
          )}
        </span>
      </div>
      <div ref={setBox} className={styles.desk}>
        <div style={{ zoom: factor }}>{sheets('page-')}</div>
      </div>
      {printing &&
        createPortal(
          <div className="print-sheets">
            <style>{`@page { size: ${page.width}mm ${page.height}mm; margin: 0 }`}</style>
            {sheets('print-')}
          </div>,
          document.body,
        )}
    </div>
  );
}

/** Sizes of what is written on a page beside the music, in millimetres; those of the style sheet. */
const LETTERS = { title: 7, name: 5, running: 3.6 };

interface Laid {
  plans: readonly PagePlan[];
  svgs: readonly string[];
  title: string;
  name: string;
  pitch: string;
  format: PageFormat;
  head: { first: number; other: number };
}

/** The pages as they are shown, for whoever makes a PDF of them; in pixels. */
function pdfRequest({ plans, svgs, title, name, pitch, format, head }: Laid): PdfRequest {
  const size = pageSize(format);
  const [width, height, margin] = [size.width * MM, size.height * MM, format.margin * MM];
  return {
    title,
    width,
    height,
    margin,
    systems: [...svgs],
    pages: plans.map(({ systems, gap }, index) => {
      const isFirst = index === 0;
      let y = margin + (isFirst ? head.first : head.other);
      return {
        lines: [
          ...(isFirst
            ? [
                { text: name || pitch, y: margin + MM, size: LETTERS.name * MM, align: 'left' as const },
                { text: title, y: margin + 5 * MM, size: LETTERS.title * MM, align: 'center' as const },
              ]
            : [
                {
                  text: [title, name].filter(Boolean).join(', '),
                  y: margin,
                  size: LETTERS.running * MM,
                  align: 'center' as const,
                },
              ]),
          {
            text: String(index + 1),
            y: height - (6 + LETTERS.running) * MM,
            size: LETTERS.running * MM,
            align: 'center' as const,
          },
        ].filter(({ text }) => text !== ''),
        pictures: systems.map((system) => {
          const picture = { system, y };
          y += heightOf(svgs[system]!) + gap;
          return picture;
        }),
      };
    }),
  };
}

interface SheetProps {
  plan: PagePlan;
  svgs: readonly string[];
  number: number;
  title: string;
  name: string;
  pitch: string;
  format: PageFormat;
  head: { first: number; other: number };
  own: string;
}

function Sheet({ plan, svgs, number, title, name, pitch, format, head, own }: SheetProps) {
  const { width, height } = pageSize(format);
  const isFirst = number === 1;
  return (
    <section
      className={styles.page}
      aria-label={`Page ${number}`}
      style={{ width: `${width}mm`, height: `${height}mm`, padding: `${format.margin}mm` }}
    >
      <header style={{ height: isFirst ? head.first : head.other }}>
        {isFirst ? (
          <>
            <span className={styles.name}>{name || pitch}</span>
            <h2>{title}</h2>
          </>
        ) : (
          <span className={styles.running}>{[title, name].filter(Boolean).join(', ')}</span>
        )}
      </header>
      {plan.systems.map((system, at) => (
        <div key={system} style={{ marginTop: at === 0 ? 0 : plan.gap }}>
          <Engraving svg={svgs[system]!} own={`${own}${number}-`} />
        </div>
      ))}
      <footer>{number}</footer>
    </section>
  );
}

/** Engraves the systems of some parts one after another, and puts them on pages. */
function useSystems(parts: readonly PartId[], format: PageFormat) {
  const { core, summary } = useSession('core', 'summary');
  const { concert } = usePitchView();
  const { inner, ...page } = pageSize(format);
  const [fill, setFill] = useState(1);
  /** How much smaller than asked for, so that the highest system fits a page. */
  const [smaller, setSmaller] = useState(1);
  const [svgs, setSvgs] = useState<readonly string[]>([]);
  const staff = format.staff * smaller;
  const width = Math.floor(inner.width * MM);
  const space = (staff * MM) / SPACES;
  const scale = (100 * space) / SPACE_AT_100;
  const room = Math.max(12, (fill * width) / space);
  const { data, isOld } = useOfScore(
    ['paper', parts, room, concert],
    (worker, revision) => worker.systems(revision, { parts, width: room, concert, paper: true }),
    parts.length > 0,
  );
  const systems = isOld ? NO_SYSTEMS : (data ?? NO_SYSTEMS);
  const head = useMemo(() => ({ first: FIRST_HEAD * MM, other: HEAD * MM }), []);
  const heights = {
    first: inner.height * MM - head.first - FOOT * MM,
    other: inner.height * MM - head.other - FOOT * MM,
  };
  const { first: lowest } = heights;
  const revision = summary?.revision ?? -1;
  const asked = `${parts.join(' ')} ${format.paper} ${format.landscape} ${format.staff} ${format.margin}`;
  const [was, setWas] = useState(asked);
  if (was !== asked) {
    setWas(asked);
    setFill(1);
    setSmaller(1);
    setSvgs([]);
  }

  useEffect(() => {
    const stop = new AbortController();
    const { signal } = stop;
    setSvgs([]);
    const work = async () => {
      const made: string[] = [];
      for (const { from, to } of systems) {
        const document = await core.window(revision, { parts, from, to, concert, paper: true });
        if (signal.aborted) return;
        const svg = await engrave({ document, width, scale }, signal);
        if (svg === null || signal.aborted) return;
        if (to - from > 1 && countSystems(svg) > 1)
          return setFill((before) => Math.max(LOOSEST, before * LOOSER));
        const height = heightOf(svg);
        if (height > lowest) return setSmaller((before) => (AIR * before * lowest) / height);
        made.push(svg);
        setSvgs([...made]);
      }
    };
    // A state that is past is asked for again with the next one.
    work().catch(() => {});
    return () => stop.abort();
  }, [core, revision, parts, systems, concert, width, scale, lowest]);

  const gap = { least: GAP.least * staff * MM, most: GAP.most * staff * MM };
  const pages = planPages(svgs.map(heightOf), heights, gap);
  return { page, head, pages, svgs, done: svgs.length, of: systems.length, staff };
}
