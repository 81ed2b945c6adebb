const note = (step: string, octave: number, duration: number, more = '', before = '') =>
  `<note>${before}<pitch><step>${step}</step><octave>${octave}</octave></pitch><duration>${duration}</duration><voice>1</voice><type>quarter</type>${more}</note>`;
const marked = (inner: string) => `<notations>${inner}</notations>`;
const said = (inner: string) => `<direction><direction-type>${inner}</direction-type></direction>`;
const transpose = (diatonic: number, chromatic: number) =>
  `<transpose><diatonic>${diatonic}</diatonic><chromatic>${chromatic}</chromatic></transpose>`;
/** A small score in which nearly everything is that is played out or written anew. */
export const RICH = `<?xml version="1.0" encoding="UTF-8"?>
<score-partwise version="4.0"><defaults><word-font font-size="9"/></defaults><part-list><score-part id="P1"><part-name>Horns 1 &amp; 2</part-name></score-part><score-part id="P2"><part-name>Harp</part-name></score-part></part-list>
<part id="P1"><measure number="1" width="200"><print new-page="yes"/><attributes><divisions>8</divisions><key><fifths>1</fifths></key><time><beats>4</beats><beat-type>4</beat-type></time><clef><sign>G</sign><line>2</line></clef>${transpose(-4, -7)}</attributes>
<harmony><root><root-step>B</root-step><root-alter>-1</root-alter></root><kind>major</kind></harmony>${said('<dynamics><p/></dynamics>')}${said('<wedge type="crescendo"/>')}${said('<words>stopped</words>')}
${note('F', 4, 8, `<accidental>sharp</accidental>${marked('<slur type="start"/>')}`)}${note('A', 4, 8, marked('<slur type="stop"/><ornaments><trill-mark/><accidental-mark>flat</accidental-mark></ornaments>'))}
<note><grace slash="yes"/><pitch><step>B</step><octave>4</octave></pitch><voice>1</voice><type>eighth</type></note>${note('C', 5, 16, marked('<fermata/>'))}</measure>
<measure number="2"><attributes><key><fifths>-2</fifths></key>${transpose(-2, -3)}</attributes>${said('<wedge type="stop"/>')}${said('<words>a2</words>')}${note('G', 4, 16, marked('<slide type="start" number="1"/>'))}${note('C', 5, 16, marked('<slide type="stop" number="1"/><articulations><staccato/><breath-mark/></articulations>'))}<barline location="right"><repeat direction="backward"/></barline></measure></part>
<part id="P2"><measure number="1"><attributes><divisions>8</divisions><key><fifths>0</fifths></key><staves>2</staves></attributes>${said('<pedal type="start" line="yes"/>')}${note('C', 4, 16, marked('<glissando type="start" number="1"/><arpeggiate/>'))}${note('G', 4, 16, '', '<chord/>')}${note('C', 5, 16, marked('<glissando type="stop" number="1"/>'))}</measure>
<measure number="2">${said('<pedal type="stop" line="yes"/>')}${note('C', 4, 32)}</measure></part></score-partwise>
`;
