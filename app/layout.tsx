import './globals.css';
import type { Metadata } from 'next';
import type { ReactNode } from 'react';
import { SignedOut } from '@/ui/access/SignedOut';
import { FailureNotice } from '@/ui/errors/FailureNotice';
import { t } from '@/ui/words/words';

export const metadata: Metadata = {
  title: t`Zafiro`,
  description: t`Finishes rendered frames and animation layers.`,
};

export default function Layout({ children }: { children: ReactNode }) {
  return (
    <html lang="en" data-theme="darkroom">
      <body className="min-h-dvh font-sans text-base-content antialiased">
        {children}
        <SignedOut />
        <FailureNotice />
      </body>
    </html>
  );
}
