declare module 'svg-to-pdfkit' {
  interface Options {
    /** Lengths without a unit are points, and not pixels. */
    assumePt?: boolean;
    /** The registered font for a family. */
    fontCallback?: (family: string, bold: boolean, italic: boolean) => string;
    /** Where a picture in the picture lies. */
    imageCallback?: (link: string) => string;
    warningCallback?: (warning: string) => void;
  }
  /** Draws an SVG text into a PDF; places in points from the top left. */
  export default function SVGtoPDF(doc: object, svg: string, x: number, y: number, options?: Options): void;
}

declare module 'pdfkit/output' {
  /** All bytes of a document, once it is ended. */
  export function toBytes(document: object): Promise<Uint8Array>;
}
