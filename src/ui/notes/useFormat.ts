import 'reflect-metadata';
import { plainToInstance } from 'class-transformer';
import { IsBoolean, IsIn, IsNumber, Max, Min, validateSync } from 'class-validator';
import { useCallback, useEffect, useState } from 'react';
import { OrNull } from '../../core/decisions/kind';
import { PAPERS, type Paper } from '../../core/engrave/pages';
import { readSetting, writeSetting } from '../../store/jobs';
import { type ChosenFormat, USUAL_FORMAT } from '../../workers/paper';

/** Kept between jobs: a house prints on one paper. */
const KEPT_AS = 'paper';

class KeptFormat implements ChosenFormat {
  @IsIn(Object.keys(PAPERS)) paper!: Paper;
  @IsBoolean() landscape!: boolean;
  @OrNull() @IsNumber() @Min(2) @Max(12) staff!: number | null;
  @IsNumber() @Min(0) @Max(40) margin!: number;
}

function read(text: string | undefined): ChosenFormat {
  try {
    const kept = plainToInstance(KeptFormat, JSON.parse(text ?? 'null'));
    if (kept === null || validateSync(kept).length > 0) return USUAL_FORMAT;
    const { paper, landscape, staff, margin } = kept;
    return { paper, landscape, staff, margin };
  } catch {
    return USUAL_FORMAT;
  }
}

/** How pages look, as it was chosen last. */
export function useFormat(): [ChosenFormat, (change: Partial<ChosenFormat>) => void] {
  const [format, setFormat] = useState(USUAL_FORMAT);
  useEffect(() => {
    void readSetting(KEPT_AS).then((text) => setFormat(read(text)));
  }, []);
  const change = useCallback(async (some: Partial<ChosenFormat>) => {
    // Of what is kept, which may not be shown yet.
    const next = { ...read(await readSetting(KEPT_AS)), ...some };
    setFormat(next);
    // What is not kept is chosen again the next time.
    await writeSetting(KEPT_AS, JSON.stringify(next)).catch(() => {});
  }, []);
  return [format, change];
}
