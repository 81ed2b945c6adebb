import { Button, Progress } from 'antd';
import { percentDone } from './percent';

/** How far some work is, and a button that stops it. */
export function WorkProgress({ share, label, onStop }: { share: number; label: string; onStop: () => void }) {
  return (
    <>
      <Progress percent={percentDone(share)} size="small" style={{ width: 140 }} aria-label={label} />
      <Button size="small" onClick={onStop}>
        Stop
      </Button>
    </>
  );
}
