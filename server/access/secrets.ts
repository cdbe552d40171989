import { createHash, randomBytes } from 'node:crypto';

/** 256 bits that nobody guesses. */
export const newSecret = (): string => randomBytes(32).toString('base64url');

/** What is kept of a secret. It is random, so a plain hash is as good as a slow one (OWASP, Session Management Cheat Sheet). */
export const hashOf = (secret: string): string => createHash('sha256').update(secret).digest('hex');
