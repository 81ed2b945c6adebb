import { Button, Modal, Progress } from 'antd';
import { percentDone } from './percent';
import type { Listening } from './useImport';

/** Tells how far the notes of a recording are heard. */
export function ListeningDialog({ name, share, stop }: Listening) {
  return (
    <Modal
      open
      title={`Listening to ${name}`}
      onCancel={stop}
      footer={<Button onClick={stop}>Stop</Button>}
      maskClosable={false}
    >
      <p>
        Its notes are heard once, on this machine. What they are taken for is decided afterwards, and can be
        changed without hearing it again.
      </p>
      <Progress percent={percentDone(share)} aria-label={`Listening to ${name}`} />
    </Modal>
  );
}
