import '@fontsource-variable/inter';
import { AntdRegistry } from '@ant-design/nextjs-registry';
import type { Metadata } from 'next';
import type { ReactNode } from 'react';
import { Providers } from '../ui/common/Providers';
import './globals.css';

/** Each answer has a nonce of its own (src/proxy.ts): none can be made ahead. */
export const dynamic = 'force-dynamic';

export const metadata: Metadata = {
  title: 'Dragoman',
  description: 'From sequencer to notation, with every decision in the open.',
};

export default function RootLayout({ children }: { children: ReactNode }) {
  return (
    <html lang="en">
      <body>
        <AntdRegistry>
          <Providers>{children}</Providers>
        </AntdRegistry>
      </body>
    </html>
  );
}
