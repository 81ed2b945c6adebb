/** Builds an XML text, indented by one space a level. */
export class XmlText {
  /** Finished stretches of text; lines are joined early so that few small strings live long. */
  private readonly stretches: string[] = [];
  private lines: string[] = [];
  private readonly open: string[] = [];
  private indent = '';

  private line(text: string): void {
    this.lines.push(text);
    if (this.lines.length < STRETCH) return;
    this.stretches.push(this.lines.join('\n'));
    this.lines = [];
  }

  start(name: string, attributes?: Attributes): void {
    this.line(`${this.indent}<${name}${attributes ? attributesText(attributes) : ''}>`);
    this.open.push(name);
    this.indent += ' ';
  }

  end(): void {
    const name = this.open.pop()!;
    this.indent = this.indent.slice(1);
    this.line(`${this.indent}</${name}>`);
  }

  /** An element with text, or an empty one. */
  leaf(name: string, text?: string | number, attributes?: Attributes): void {
    const head = `${this.indent}<${name}${attributes ? attributesText(attributes) : ''}`;
    this.line(
      text === undefined
        ? `${head}/>`
        : `${head}>${typeof text === 'number' ? text : escapeXml(text)}</${name}>`,
    );
  }

  /** An element that is written already. */
  raw(text: string): void {
    this.line(this.indent + text);
  }

  /** All that was written. */
  text(): string {
    return [...this.stretches, ...this.lines].join('\n');
  }

  /** The document, with its declaration and the lines in `prolog`. */
  document(prolog: string): string {
    return `<?xml version="1.0" encoding="UTF-8"?>\n${prolog}\n${this.text()}\n`;
  }
}

/** Lines that are joined at a time. */
const STRETCH = 2000;

type Attributes = Record<string, string | number | undefined>;

function attributesText(attributes: Attributes): string {
  let text = '';
  for (const name in attributes) {
    const value = attributes[name];
    if (value !== undefined) text += ` ${name}="${escapeXml(String(value))}"`;
  }
  return text;
}

const ESCAPES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };

/** Escapes markup and drops what XML 1.0 cannot hold. */
export function escapeXml(text: string): string {
  if (!/[&<>"\u0000-\u001f\ud800-\udfff\ufffe\uffff]/.test(text)) return text;
  return text
    .toWellFormed()
    .replace(/[&<>"]/g, (char) => ESCAPES[char]!)
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '');
}
