import { vi } from 'vitest';
import { runCommand } from '@/cli/commands';

export interface Ran {
  /** Exit code. */
  status: number;
  stdout: string;
  stderr: string;
}

const kept = (stream: NodeJS.WriteStream) => {
  let text = '';
  const spy = vi.spyOn(stream, 'write').mockImplementation((chunk) => {
    text += chunk;
    return true;
  });
  return { text: () => text, mockRestore: () => spy.mockRestore() };
};

/** Does what a command line asks for, in the process of the test. */
export async function dragoman(...args: string[]): Promise<Ran> {
  const [out, err] = [kept(process.stdout), kept(process.stderr)];
  try {
    const status = await runCommand(args, 'scripts/dragoman.mjs');
    return { status, stdout: out.text(), stderr: err.text() };
  } finally {
    out.mockRestore();
    err.mockRestore();
  }
}
