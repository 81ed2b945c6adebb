/** Builds an XML text, indented by one space a level. */
export class XmlText {
  private readonly lines: string[] = [];
  private readonly open: string[] = [];

  start(name: string, attributes: Attributes = {}): void {
    this.lines.push(`${' '.repeat(this.open.length)}<${name}${attributesText(attributes)}>`);
    this.open.push(name);
  }

  end(): void {
    const name = this.open.pop()!;
    this.lines.push(`${' '.repeat(this.open.length)}</${name}>`);
  }

  /** An element with text, or an empty one. */
  leaf(name: string, text?: string | number, attributes: Attributes = {}): void {
    const head = `${' '.repeat(this.open.length)}<${name}${attributesText(attributes)}`;
    this.lines.push(text === undefined ? `${head}/>` : `${head}>${escapeXml(String(text))}</${name}>`);
  }

  /** The document, with its declaration and the lines in `prolog`. */
  document(prolog: string): string {
    return `<?xml version="1.0" encoding="UTF-8"?>\n${prolog}\n${this.lines.join('\n')}\n`;
  }
}

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
function escapeXml(text: string): string {
  if (!/[&<>"\u0000-\u001f\ud800-\udfff\ufffe\uffff]/.test(text)) return text;
  return text
    .toWellFormed()
    .replace(/[&<>"]/g, (char) => ESCAPES[char]!)
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '');
}
