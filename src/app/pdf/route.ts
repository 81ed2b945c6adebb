import { checkPdfRequest, pdfOf, unpacked } from '../../server/pdf';

/** Makes a PDF of the pages that it is sent. */
export async function POST(request: Request): Promise<Response> {
  let wanted: ReturnType<typeof checkPdfRequest>;
  try {
    wanted = checkPdfRequest(await unpacked(await request.arrayBuffer()));
  } catch (error) {
    return new Response((error as Error).message, { status: 400 });
  }
  try {
    const bytes = await pdfOf(wanted);
    return new Response(new Uint8Array(bytes), { headers: { 'Content-Type': 'application/pdf' } });
  } catch (error) {
    return new Response(`These pages could not be made a PDF: ${(error as Error).message}`, { status: 500 });
  }
}
