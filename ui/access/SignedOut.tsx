'use client';
import { useEffect, useState } from 'react';
import { signedOutEvent } from '@/api/request';
import { Modal } from '../parts/Modal';
import { t } from '../words/words';
import { SignInForm } from './SignIn';

/** Where a session ends while one works, one signs in again without leaving: what waits is saved then. */
export function SignedOut() {
  const [isOut, setIsOut] = useState(false);
  useEffect(() => {
    const out = () => setIsOut(!location.pathname.startsWith('/sign-in'));
    addEventListener(signedOutEvent, out);
    return () => removeEventListener(signedOutEvent, out);
  }, []);
  if (!isOut) return null;
  return (
    <Modal label={t`Sign in to Zafiro`} box="w-auto p-7" onClose={() => setIsOut(false)}>
      <SignInForm
        words={t`You were signed out. What you did here is kept, and saved once you have signed in.`}
        onDone={() => setIsOut(false)}
      />
    </Modal>
  );
}
