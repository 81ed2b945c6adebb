'use client';

import { type Ref, useImperativeHandle, useLayoutEffect, useRef } from 'react';

interface Props {
  /** As the engraver made it. */
  svg: string;
  className?: string | undefined;
  /** Put before all ids, so that the same notes may stand twice on a page. */
  own?: string;
  isHidden?: boolean;
  ref?: Ref<HTMLDivElement>;
}

/** The engraver's picture as nodes: parsed as XML, in which nothing can run. The one place where it enters the page. */
function nodesOf(svg: string): SVGSVGElement | null {
  const { documentElement: root } = new DOMParser().parseFromString(svg, 'image/svg+xml');
  if (!(root instanceof SVGSVGElement) || root.querySelector('script, foreignObject')) return null;
  return document.importNode(root, true);
}

/** An engraved system. */
export function Engraving({ svg, className, own, isHidden = false, ref }: Props) {
  const box = useRef<HTMLDivElement>(null);
  useImperativeHandle(ref, () => box.current!);
  useLayoutEffect(() => {
    const root = nodesOf(own ? svg.replace(/( id="| href="#)/g, `$1${own}`) : svg);
    box.current?.replaceChildren(...(root ? [root] : []));
  }, [svg, own]);
  return <div ref={box} className={className} aria-hidden={isHidden || undefined} />;
}
