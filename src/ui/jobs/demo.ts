import { tidyFile } from '../../core/demo/tidy';
import { untidyFile } from '../../core/demo/untidy';
import { addJob, readSetting, writeSetting } from '../../store/jobs';
import { openedOnce } from '../common/useImport';

const DEMOS = [
  {
    id: 'demo-untidy',
    title: 'Lantern Ferry, as it left the sequencer',
    file: 'lantern-ferry-untidy.mid',
    make: untidyFile,
  },
  { id: 'demo', title: 'Lantern Ferry', file: 'lantern-ferry.mid', make: tidyFile },
];

/** Puts the demo piece on the shelf at the very first start; once deleted it stays away. */
export async function addDemoOnce(): Promise<void> {
  if (await readSetting('demo')) return;
  await writeSetting('demo', 'added');
  await addDemo();
}

/** Adds the demo jobs that are not there. */
export async function addDemo(): Promise<void> {
  for (const { id, title, file, make } of DEMOS) {
    const bytes = make();
    const { strands, notes } = await openedOnce(bytes, file, { opensNext: false });
    await addJob({ title, sourceName: file, bytes, strands, notes }, id).catch((error: unknown) => {
      if ((error as Error).name !== 'ConstraintError') throw error;
    });
  }
}
