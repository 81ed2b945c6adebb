'use client';

import { Badge, Segmented } from 'antd';
import { usePathname, useRouter, useSearchParams } from 'next/navigation';
import { useKeys } from '../common/keys';
import { Panel } from '../common/Panel';
import { Stepwise } from '../common/Stepwise';
import { useSession } from '../job/session';
import { NoteBars } from '../note-bars/NoteBars';
import { RecordingView } from '../recording/RecordingView';
import { StemsView } from '../stems/StemsView';
import { CleaningView } from './CleaningView';
import { Facts } from './Facts';
import { KitsView } from './KitsView';
import { OdditiesView } from './OdditiesView';
import { OverviewView } from './OverviewView';
import styles from './SourcesStage.module.css';
import { StrandTable } from './StrandTable';
import { SOURCE_VIEWS, type SourceView } from './views';

/** The source: what it is at a glance, its strands, its notes, what is odd in it, and how it is cleaned. */
export function SourcesStage() {
  const { inventory, kits } = useSession('inventory', 'kits');
  const router = useRouter();
  const path = usePathname();
  const asks = useSearchParams();
  const asked = asks.get('view');
  const view = SOURCE_VIEWS.find(({ id }) => id === asked)?.id ?? 'overview';
  const count = inventory.oddities.length;
  useKeys({
    search: () => view !== 'strands' && router.replace(`${path}?view=strands&find=`, { scroll: false }),
  });
  const nameOf = ({ id, name }: (typeof SOURCE_VIEWS)[number]) =>
    id === 'oddities' ? (
      <>
        {name} <Badge count={count} size="small" overflowCount={999} className={styles.badge} />
      </>
    ) : (
      name
    );
  return (
    <div className={view === 'bars' ? `${styles.stage} ${styles.filled}` : styles.stage}>
      <Stepwise>
        <Panel name="The source">
          <Facts />
        </Panel>
        <div className={styles.views}>
          <Segmented<SourceView>
            aria-label="View of the source"
            value={view}
            options={SOURCE_VIEWS.filter(({ id }) => id !== 'kits' || kits.length > 0).map((each) => ({
              value: each.id,
              label: nameOf(each),
            }))}
            onChange={(next) => router.replace(`${path}?view=${next}`, { scroll: false })}
          />
        </div>
        {view === 'overview' && (
          <Panel name="The overview">
            <OverviewView />
          </Panel>
        )}
        {view === 'strands' && (
          <Panel name="The strands">
            <StrandTable isSearched={asks.has('find')} />
          </Panel>
        )}
        {view === 'bars' && (
          <div className={styles.bars}>
            <Panel name="The note bars">
              <NoteBars />
            </Panel>
          </div>
        )}
        {view === 'oddities' && (
          <Panel name="The oddities">
            <OdditiesView />
          </Panel>
        )}
        {view === 'cleaning' && (
          <Panel name="The cleaning">
            <CleaningView />
          </Panel>
        )}
        {view === 'kits' && (
          <Panel name="The kits">
            <KitsView />
          </Panel>
        )}
        {view === 'recording' && (
          <Panel name="The recording">
            <RecordingView />
            <StemsView />
          </Panel>
        )}
      </Stepwise>
    </div>
  );
}
