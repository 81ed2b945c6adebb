'use client';

import { type Ref, useImperativeHandle, useLayoutEffect, useRef } from 'react';
import { pictureOf } from './picture';

interface Props {
  /** As the engraver made it, or a picture that was cut from it. */
  svg: string | SVGSVGElement;
  className?: string | undefined;
  /** Put before all ids, so that the same notes may stand twice on a page. */
  own?: string;
  isHidden?: boolean;
  ref?: Ref<HTMLDivElement>;
}

/** An engraved system. */
export function Engraving({ svg, className, own, isHidden = false, ref }: Props) {
  const box = useRef<HTMLDivElement>(null);
  useImperativeHandle(ref, () => box.current!);
  useLayoutEffect(() => {
    const picture = typeof svg === 'string' ? pictureOf(svg, own) : svg;
    box.current?.replaceChildren(...(picture ? [picture] : []));
  }, [svg, own]);
  return <div ref={box} className={className} aria-hidden={isHidden || undefined} />;
}
