import { useEffect, useState } from 'react';
import type { PitchPicture } from '../../core/recording/constant-q';
import type { RecordingRow } from '../../store/rows';
import { pictureFrom } from './listen';

/** The last picture that was made, since it takes seconds: it is kept as long as the page is. */
let latest: { of: number; picture: Promise<PitchPicture> } | null = null;

/** A recording by pitch, made when it is wanted; null until it is there, and where it cannot be made. */
export function usePicture(recording: RecordingRow | null, wanted: boolean): PitchPicture | null {
  const [made, setMade] = useState<{ of: number; picture: PitchPicture } | null>(null);
  const isWanted = wanted && recording?.heard;
  useEffect(() => {
    if (!isWanted || !recording) return;
    let isGone = false;
    const of = recording.addedAt;
    if (latest?.of !== of) latest = { of, picture: pictureFrom(recording.file) };
    latest.picture.then(
      (picture) => {
        if (!isGone) setMade({ of, picture });
      },
      () => {
        // A recording that is damaged is told where it is looked through.
        latest = null;
      },
    );
    return () => {
      isGone = true;
    };
  }, [isWanted, recording]);
  return isWanted && made?.of === recording.addedAt ? made.picture : null;
}
