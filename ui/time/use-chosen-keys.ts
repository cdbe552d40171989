import { createStore, useStore } from 'zustand';
import type { CopiedKey, KeyAt } from '@/core/finish/key-edits';

/** Keys that are chosen in the time drawer, and those that were copied: the same in all of its looks. */

export const nameOf = ({ of, key, frame }: KeyAt) => `${of}/${key}/${frame}`;

type Chosen = { keys: readonly KeyAt[]; copied: readonly CopiedKey[] };
const chosen = createStore<Chosen>()(() => ({ keys: [], copied: [] }));

export const chooseKeys = (keys: readonly KeyAt[]) => chosen.setState({ keys });
export const keepKeys = (copied: readonly CopiedKey[]) => chosen.setState({ copied });
export const useChosenKeys = () => useStore(chosen, (s) => s.keys);
export const useCopiedKeys = () => useStore(chosen, (s) => s.copied);
