import '@fontsource-variable/instrument-sans';
import '@fontsource-variable/spline-sans-mono';
import type { Metadata } from 'next';
import { connection } from 'next/server';
import { Suspense, type ReactNode } from 'react';
import { Providers } from '@/ui/Providers';
import '@/ui/wistrel.css';

export const metadata: Metadata = { title: 'Wistrel', description: 'Gets a web page on screen sooner.' };

export default async function Layout({ children }: { children: ReactNode }) {
  // A page that was made beforehand could not carry the nonce that its scripts run by.
  await connection();
  return (
    <html lang="en" suppressHydrationWarning>
      <body>
        <Providers>
          <Suspense>{children}</Suspense>
        </Providers>
      </body>
    </html>
  );
}
