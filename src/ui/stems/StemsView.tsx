'use client';

import { FolderOpenOutlined, UploadOutlined } from '@ant-design/icons';
import { Button, Checkbox, Popconfirm, Space, Upload } from 'antd';
import { useState } from 'react';
import { counted } from '../../core/basics/words';
import { dropStems } from '../../store/stems';
import { WorkProgress } from '../common/WorkProgress';
import { useSession } from '../job/session';
import type { Stem } from './laid-stems';
import { StemsTable } from './StemsTable';
import styles from './StemsView.module.css';
import { useStems } from './useStems';
import { useStemWork } from './useStemWork';
import { useTakeStems } from './useTakeStems';

const SOUNDS = 'audio/*,.wav,.mp3,.ogg,.oga,.flac,.m4a,.aac,.opus,.aif,.aiff';

/** Sound files of single parts, beside the score: whose each is, where it lies, and whether it is heard. */
export function StemsView() {
  const stems = useStems();
  const { progress, takeStems, stop } = useTakeStems();
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [showsHidden, setShowsHidden] = useState(false);
  const hidden = stems.filter((stem) => stem.hidden).length;
  const shown = showsHidden ? stems : stems.filter((stem) => !stem.hidden);
  const picked = shown.filter(({ file }) => chosen.includes(file));
  // Files of one choice come one by one.
  const take = (file: File, files: readonly File[]) => {
    if (file === files[0]) void takeStems(files);
    return false;
  };
  return (
    <section className={styles.view} aria-label="Stems">
      <h2>Stems</h2>
      <p className="soft">
        Sound files of single parts. Each is matched to its part by name, kept as it came, and heard alone,
        with the others, or in turns with its part.
      </p>
      <Space wrap>
        <Upload multiple accept={SOUNDS} showUploadList={false} beforeUpload={take}>
          <Button icon={<UploadOutlined />} disabled={progress !== null}>
            Add stems…
          </Button>
        </Upload>
        <Upload directory showUploadList={false} beforeUpload={take}>
          <Button icon={<FolderOpenOutlined />} disabled={progress !== null}>
            Add a folder…
          </Button>
        </Upload>
        {progress && (
          <WorkProgress share={progress.done / progress.of} label="Stems taken in" onStop={stop} />
        )}
        {hidden > 0 && (
          <Checkbox checked={showsHidden} onChange={({ target }) => setShowsHidden(target.checked)}>
            Show {counted(hidden, 'hidden stem')}
          </Checkbox>
        )}
      </Space>
      {stems.length > 0 && (
        <>
          <ForChosen stems={picked.length > 0 ? picked : shown} areAll={picked.length === 0} />
          <StemsTable stems={shown} chosen={chosen} onChoose={setChosen} />
        </>
      )}
    </section>
  );
}

/** What is done with the chosen stems, or with all. */
function ForChosen({ stems, areAll }: { stems: readonly Stem[]; areAll: boolean }) {
  const { take, job } = useSession('take', 'job');
  const { share, lay, match, stop } = useStemWork();
  const all = areAll ? 'all' : `${stems.length}`;
  const say = (change: { muted?: boolean; hidden?: boolean }) =>
    take(...stems.map(({ file }) => ({ kind: 'stem' as const, stem: file, ...change })));
  const busy = share !== null;
  return (
    <div className={styles.tools} role="toolbar" aria-label={areAll ? 'All stems' : 'Chosen stems'}>
      <Button
        size="small"
        disabled={busy || stems.length === 0}
        title="Where the piece begins in them, by what begins to sound in both"
        onClick={() => void lay(stems)}
      >
        Lay {all} along the piece
      </Button>
      <Button
        size="small"
        disabled={busy || stems.length === 0}
        title="By what begins to sound in a stem and in a part"
        onClick={() => void match(areAll ? stems.filter(({ part }) => part === null) : stems)}
      >
        Match {areAll ? 'the others' : all} by sound
      </Button>
      {stems.some(({ muted }) => !muted) ? (
        <Button size="small" onClick={() => say({ muted: true })}>
          Mute {all}
        </Button>
      ) : (
        <Button size="small" onClick={() => say({ muted: false })}>
          Unmute {all}
        </Button>
      )}
      {!areAll && (
        <Button size="small" onClick={() => say({ hidden: stems.some(({ hidden }) => !hidden) })}>
          {stems.some(({ hidden }) => !hidden) ? 'Hide' : 'Show'} {all}
        </Button>
      )}
      {!areAll && (
        <Popconfirm
          title={`Take ${counted(stems.length, 'stem')} out of the job?`}
          description="The files themselves stay where you have them."
          okText="Take out"
          onConfirm={() =>
            dropStems(
              job.id,
              stems.map(({ file }) => file),
            )
          }
        >
          <Button size="small">Take {all} out…</Button>
        </Popconfirm>
      )}
      {busy && <WorkProgress share={share} label="Stems listened to" onStop={stop} />}
    </div>
  );
}
