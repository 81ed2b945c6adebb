declare module 'svg-to-pdfkit' {
  interface Options {
    /** Lengths without a unit are points, and not pixels. */
    assumePt?: boolean;
    /** The registered font for a family. */
    fontCallback?: (family: string, bold: boolean, italic: boolean) => string;
    warningCallback?: (warning: string) => void;
  }
  /** Draws an SVG text into a PDF; places in points from the top left. */
  export default function SVGtoPDF(doc: object, svg: string, x: number, y: number, options?: Options): void;
}

declare module 'wawoff2' {
  /** A compressed font (WOFF2) as a plain one (TTF or OTF). */
  export function decompress(font: Uint8Array): Promise<Uint8Array>;
}
