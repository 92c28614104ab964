import '@fontsource-variable/instrument-sans';
import '@fontsource-variable/spline-sans-mono';
import type { Metadata } from 'next';
import { headers } from 'next/headers';
import type { ReactNode } from 'react';
import { nonceIn } from '@/content-policy';
import { KEEP_EARLY_KEYS } from '@/ui/early-keys';
import { KEEP_EARLY_PRESSES } from '@/ui/early-presses';
import { Providers } from '@/ui/Providers';
import '@/ui/wistrel.css';

export const metadata: Metadata = { title: 'Wistrel', description: 'Gets a web page on screen sooner.' };

export default async function Layout({ children }: { children: ReactNode }) {
  // Asked for with each answer: a page that was made beforehand could not carry the nonce that its scripts run by.
  const nonce = nonceIn((await headers()).get('content-security-policy') ?? '');
  return (
    <html lang="en" suppressHydrationWarning>
      <body>
        <script
          nonce={nonce}
          suppressHydrationWarning
          dangerouslySetInnerHTML={{ __html: `${KEEP_EARLY_KEYS};${KEEP_EARLY_PRESSES}` }}
        />
        {/* No boundary around it: a screen larger than some kilobytes would be sent hidden, and wait for a script to be shown. */}
        <Providers>{children}</Providers>
      </body>
    </html>
  );
}
