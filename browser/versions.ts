import { createContext, useCallback, useContext, useMemo, useState } from 'react';
import type { Finish } from '../core/finish/finish';

/** A saved version of the finish, newest first. */
export type Version = { version: number; says: string; label: string | null; savedAt: string };

/** Saved versions that the page knows, and the documents of those that were asked for. */
export type Versions = {
  list: Version[];
  documents: Record<number, Finish>;
  refresh(): Promise<void>;
  fetch(version: number): Promise<Finish | undefined>;
  label(version: number, label: string): Promise<void>;
};

const none: Versions = {
  list: [],
  documents: {},
  refresh: async () => {},
  fetch: async () => undefined,
  label: async () => {},
};
export const VersionsContext = createContext<Versions>(none);
export const useVersions = () => useContext(VersionsContext);

/** The versions of a finish, from the server. */
export function useSavedVersions(finish: number): Versions {
  const [list, setList] = useState<Version[]>([]);
  const [documents, setDocuments] = useState<Record<number, Finish>>({});
  const base = `/api/finishes/${finish}/versions`;
  const refresh = useCallback(async () => {
    const response = await fetch(base).catch(() => null);
    if (response?.ok) setList(await response.json());
  }, [base]);
  return useMemo(
    () => ({
      list,
      documents,
      refresh,
      async fetch(version) {
        if (documents[version]) return documents[version];
        const response = await fetch(`${base}/${version}`).catch(() => null);
        if (!response?.ok) return undefined;
        const document: Finish = await response.json();
        setDocuments((known) => ({ ...known, [version]: document }));
        return document;
      },
      async label(version, label) {
        await fetch(`${base}/${version}`, { method: 'PATCH', body: JSON.stringify({ label }) }).catch(
          () => null,
        );
        await refresh();
      },
    }),
    [list, documents, refresh, base],
  );
}
