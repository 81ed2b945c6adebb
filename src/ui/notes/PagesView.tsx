'use client';

import { FilePdfOutlined, PrinterOutlined } from '@ant-design/icons';
import { App, Button, Checkbox, Progress, Segmented, Select, Tooltip } from 'antd';
import { useEffect, useMemo, useRef, useState } from 'react';
import { createPortal, flushSync } from 'react-dom';
import { counted } from '../../core/basics/words';
import { packZip } from '../../core/basics/zip';
import {
  type HastyTurn,
  PAPERS,
  type PageFormat,
  type PagePlan,
  type Paper,
  pageSize,
  STAFF_SIZES,
} from '../../core/engrave/pages';
import type { PartId } from '../../core/model/ids';
import {
  engravePages,
  formatFor,
  HEAD,
  type LaidPages,
  type Lettering,
  letteringOf,
  MM,
  NO_PAGES,
} from '../../workers/paper';
import { saveFile } from '../common/saveFile';
import { useSize } from '../common/useSize';
import { Engraving } from '../engraving/Engraving';
import { usePitchView } from '../engraving/pitchView';
import { useSession } from '../job/session';
import styles from './PagesView.module.css';
import { pdfOfEach, pdfOfPages, printedParts } from './pdfs';
import { useFormat } from './useFormat';
import { useTellMissing } from './useTellMissing';

type Zoom = 'width' | 'page' | 'paper';

/** The score as it comes out on paper, page by page, to look at and to print. */
export function PagesView({ parts }: { parts: readonly PartId[] }) {
  const { core, summary, job, decisions, amend } = useSession('core', 'summary', 'job', 'decisions', 'amend');
  const { notification } = App.useApp();
  const { concert } = usePitchView();
  const [chosen, change] = useFormat();
  const format = formatFor(chosen, parts.length);
  const [zoom, setZoom] = useState<Zoom>('width');
  const page = pageSize(format);
  const laid = usePages(parts, format);
  const { pages, svgs, done, of, staff, hasty } = laid;
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
  const onMissing = useTellMissing();
  const printing = summary && { core, summary, concert, chosen, onMissing };
  const lettering = printing
    ? letteringOf(
        printing.summary,
        shown.map(({ name }) => name),
        concert,
      )
    : NO_LETTERING;
  const sheets = (own: string) =>
    pages.map((plan, index) => (
      <Sheet
        key={`page ${index + 1}`}
        plan={plan}
        svgs={svgs}
        number={index + 1}
        {...lettering}
        format={format}
        own={own}
      />
    ));
  const [isPrinting, setPrinting] = useState(false);
  const print = () => {
    flushSync(() => setPrinting(true));
    void document.fonts.ready.then(() => {
      window.print();
      setPrinting(false);
    });
  };
  const [making, setMaking] = useState<string | null>(null);
  const stop = useRef<AbortController | null>(null);
  useEffect(() => () => stop.current?.abort(), []);
  const fileName = (own: string) => [lettering.title || job.title, own].filter(Boolean).join(' – ');
  const madeWhile = async (make: (signal: AbortSignal) => Promise<void>) => {
    const controller = new AbortController();
    stop.current = controller;
    setMaking('');
    try {
      await make(controller.signal);
    } catch (error) {
      notification.error({ title: 'The PDF was not made', description: (error as Error).message });
    } finally {
      setMaking(null);
    }
  };
  const pdf = () =>
    madeWhile(async (signal) => {
      const bytes = printing && (await pdfOfPages(printing, shown, laid, signal));
      if (!bytes) return;
      saveFile(`${fileName(lettering.name)}.pdf`, new Blob([bytes as BlobPart], { type: 'application/pdf' }));
    });
  /** Each part in view as a PDF of its own, in a zip. */
  const partsAsPdf = () =>
    madeWhile(async (signal) => {
      const made = printing && (await pdfOfEach(printing, shown, signal, setMaking));
      if (!made) return;
      const files = Object.fromEntries(made.map(({ name, bytes }) => [`${name}.pdf`, bytes]));
      const zip = packZip(files, () => 0);
      saveFile(`${fileName('parts')}.zip`, new Blob([zip as BlobPart], { type: 'application/zip' }));
    });
  return (
    <div className={styles.view}>
      <div className={styles.tools} role="toolbar" aria-label="Pages">
        <Select<Paper>
          size="small"
          aria-label="Paper"
          value={chosen.paper}
          options={(Object.keys(PAPERS) as Paper[]).map((value) => ({ value, label: value }))}
          onChange={(paper) => change({ paper })}
        />
        <Checkbox
          checked={chosen.landscape}
          onChange={(event) => change({ landscape: event.target.checked })}
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
          onChange={(value) => change({ staff: value || null })}
        />
        <Select<number>
          size="small"
          aria-label="Margin"
          value={chosen.margin}
          options={[8, 10, 12, 14, 16, 20, 25].map((value) => ({ value, label: `${value} mm margin` }))}
          onChange={(margin) => change({ margin })}
        />
        {shown.length === 1 && (
          <Tooltip title="Small notes of another part before entries after eight bars of rest and more; in parts by themselves">
            <Checkbox
              checked={decisions.scoreForm.cues ?? false}
              onChange={({ target }) =>
                amend(({ scoreForm }) => [{ kind: 'score-form', ...scoreForm, cues: target.checked }])
              }
            >
              Cues
            </Checkbox>
          </Tooltip>
        )}
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
          aria-label="PDF"
          disabled={done < of || of === 0 || making !== null}
          onClick={() => void pdf()}
        >
          PDF
        </Button>
        {shown.length > 1 && (
          <Button
            size="small"
            disabled={done < of || of === 0 || making !== null}
            onClick={() => void partsAsPdf()}
          >
            PDF of each part
          </Button>
        )}
        {making !== null && (
          <>
            <span role="status">Making the PDF{making && `: ${making}`}</span>
            <Button size="small" onClick={() => stop.current?.abort()}>
              Stop
            </Button>
          </>
        )}
        <span className="soft" role="status">
          {done < of ? (
            <>
              <Progress type="circle" size={16} percent={(100 * done) / of} /> {done} of{' '}
              {counted(of, 'system')}
            </>
          ) : (
            `${counted(pages.length, 'page')}${turnsText(pages.length, hasty)}${staff < format.staff ? `; staves ${staff.toFixed(1)} mm, so that a system fits a page` : ''}`
          )}
        </span>
      </div>
      <div ref={setBox} className={styles.desk}>
        <div style={{ zoom: factor }}>{sheets('page-')}</div>
      </div>
      {isPrinting &&
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

const NO_LETTERING: Lettering = { title: '', composer: '', copyright: '', name: '', pitch: '' };

/** What a player finds where he turns. */
function turnsText(pages: number, hasty: readonly HastyTurn[]): string {
  if (hasty.length === 0) return '';
  const listed = hasty.map(({ page, rest }) => `${page} (${rest.toFixed(1)} s)`).join(', ');
  return pages > 1 ? `; little rest to turn in after page ${listed}` : '';
}

interface SheetProps extends Lettering {
  plan: PagePlan;
  svgs: readonly string[];
  number: number;
  format: PageFormat;
  own: string;
}

function Sheet({ plan, svgs, number, title, composer, copyright, name, pitch, format, own }: SheetProps) {
  const { width, height } = pageSize(format);
  const isFirst = number === 1;
  return (
    <section
      className={styles.page}
      aria-label={`Page ${number}`}
      style={{ width: `${width}mm`, height: `${height}mm`, padding: `${format.margin}mm` }}
    >
      <header style={{ height: isFirst ? HEAD.first : HEAD.other }}>
        {isFirst ? (
          <>
            <span className={styles.name}>{name || pitch}</span>
            <h2>{title}</h2>
            <span className={styles.composer}>{composer}</span>
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
      {isFirst && copyright && <p className={styles.copyright}>{copyright}</p>}
      <footer>{number}</footer>
    </section>
  );
}

/** The pages of some parts, as far as they are engraved. */
function usePages(parts: readonly PartId[], format: PageFormat): LaidPages {
  const { core, summary } = useSession('core', 'summary');
  const { concert } = usePitchView();
  const [laid, setLaid] = useState(NO_PAGES);
  const revision = summary?.revision ?? -1;
  const { paper, landscape, staff, margin } = format;
  const isEmpty = parts.length === 0 || revision < 0;
  useEffect(() => {
    const stop = new AbortController();
    setLaid(NO_PAGES);
    const format = { paper, landscape, staff, margin };
    const asked = printedParts({ core, summary: { revision }, concert }, parts, format);
    // A state that is past is asked for again with the next one.
    if (!isEmpty) void engravePages(asked, stop.signal, setLaid).catch(() => {});
    return () => stop.abort();
  }, [core, revision, parts, concert, paper, landscape, staff, margin, isEmpty]);
  return laid;
}
