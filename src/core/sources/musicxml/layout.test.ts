import { describe, expect, it } from 'vitest';
import { withoutLayout } from './layout';

/** Elements and attributes of layout in the MusicXML 4.0 specification (W3C): `defaults`, `print`, `position`, `bezier`, `font`. */
const LAID_OUT = `<?xml version="1.0"?>
<!-- default-x="1" in a comment stays -->
<score-partwise version="4.0">
  <identification><encoding><supports element="print" attribute="new-system" type="yes" value="yes"/><supports element="beam" type="yes"/></encoding></identification>
  <defaults>
    <scaling><millimeters>7</millimeters><tenths>40</tenths></scaling>
    <page-layout><page-height>1600</page-height><page-width>1200</page-width></page-layout>
    <word-font font-family="Serif" font-size="10"/>
  </defaults>
  <credit page="1"><credit-words default-x="600" default-y="1500" justify="center" font-size="24">Quay > side</credit-words></credit>
  <part-list><score-part id="P1"><part-name>Flute</part-name></score-part></part-list>
  <part id="P1">
    <measure number="1" width="200.5">
      <print new-page="yes"><system-layout><system-distance>90</system-distance></system-layout></print>
      <direction placement="above"><direction-type><words font-weight='bold' font-size='12' relative-y = "10">Allegro</words></direction-type></direction>
      <note default-x="20" print-object="yes"><pitch><step>C</step><octave>4</octave></pitch><duration>4</duration><notations><slur type="start" bezier-x="3" number="1"/></notations></note>
    </measure>
    <measure number="2">
      <print new-system="yes"><system-layout/><measure-numbering>system</measure-numbering></print>
      <note><rest/><duration>4</duration><notations><slur type="stop" number="1"/></notations></note>
    </measure>
  </part>
</score-partwise>
`;

describe('a document without its layout', () => {
  it('has no breaks, places, sizes and fonts, and all else to the character', () => {
    expect(withoutLayout(LAID_OUT)).toBe(`<?xml version="1.0"?>
<!-- default-x="1" in a comment stays -->
<score-partwise version="4.0">
  <identification><encoding><supports element="beam" type="yes"/></encoding></identification>
  <credit page="1"><credit-words justify="center">Quay > side</credit-words></credit>
  <part-list><score-part id="P1"><part-name>Flute</part-name></score-part></part-list>
  <part id="P1">
    <measure number="1">
      <direction placement="above"><direction-type><words font-weight='bold'>Allegro</words></direction-type></direction>
      <note print-object="yes"><pitch><step>C</step><octave>4</octave></pitch><duration>4</duration><notations><slur type="start" number="1"/></notations></note>
    </measure>
    <measure number="2">
      <print><measure-numbering>system</measure-numbering></print>
      <note><rest/><duration>4</duration><notations><slur type="stop" number="1"/></notations></note>
    </measure>
  </part>
</score-partwise>
`);
  });

  it('loses the width of bars that hold parts', () => {
    const timewise = `<score-timewise><part-list/><measure number="1" width="9"><part id="P1"><note default-x="1"><rest/></note></part><part id="P2"><note><rest/></note></part></measure></score-timewise>`;
    expect(withoutLayout(timewise)).toBe(timewise.replace(' width="9"', '').replace(' default-x="1"', ''));
  });

  it('is the same without layout again', () => {
    const once = withoutLayout(LAID_OUT);
    expect(withoutLayout(once)).toBe(once);
  });
});
