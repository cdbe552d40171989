import { createContext, useCallback, useContext, useMemo, useState } from 'react';
import { listVersions, nameVersion, readFinish, readVersion, type Version } from '../../api/finishes';
import { request } from '../../api/request';
import type { Finish } from '../../core/finish/finish';

/** Saved versions that the page knows, the newest first, and the documents of those that were asked for. */
export type Versions = {
  list: readonly Version[];
  documents: Readonly<Record<number, Finish>>;
  /** Other finishes of the shot, those that were asked for. */
  others: Readonly<Record<number, Finish>>;
  problem?: string;
  refresh(): Promise<void>;
  /** One that was saved or named just now. */
  hear(version: Version): void;
  fetch(version: number): Promise<Finish | undefined>;
  fetchOther(finish: number): Promise<Finish | undefined>;
  rename(version: number, name: string): Promise<void>;
};

const none: Versions = {
  list: [],
  documents: {},
  others: {},
  fetchOther: async () => undefined,
  refresh: async () => {},
  hear: () => {},
  fetch: async () => undefined,
  rename: async () => {},
};
export const VersionsContext = createContext<Versions>(none);
export const useVersions = () => useContext(VersionsContext);

/** The versions of a finish, from the server. */
export function useSavedVersions(finish: number): Versions {
  const [list, setList] = useState<readonly Version[]>([]);
  const [documents, setDocuments] = useState<Record<number, Finish>>({});
  const [others, setOthers] = useState<Record<number, Finish>>({});
  const [problem, setProblem] = useState<string>();
  const attempt = useCallback(async <T>(work: () => Promise<T>): Promise<T | undefined> => {
    try {
      const made = await work();
      setProblem(undefined);
      return made;
    } catch (error) {
      setProblem((error as Error).message);
      return undefined;
    }
  }, []);
  const refresh = useCallback(async () => {
    const found = await attempt(() => request(listVersions, { params: { finish } }));
    if (found) setList(found);
  }, [finish, attempt]);
  const hear = useCallback((version: Version) => {
    setList((known) =>
      // Nobody has looked yet: the whole list comes when somebody does.
      known.length === 0
        ? known
        : [version, ...known.filter((v) => v.version !== version.version)].sort(
            (a, b) => b.version - a.version,
          ),
    );
  }, []);
  return useMemo(
    () => ({
      list,
      documents,
      others,
      problem,
      refresh,
      hear,
      async fetch(version) {
        if (documents[version]) return documents[version];
        const document = await attempt(() => request(readVersion, { params: { finish, version } }));
        if (document) setDocuments((known) => ({ ...known, [version]: document }));
        return document;
      },
      // As it is now: another page may have changed it since it was last looked at.
      async fetchOther(other) {
        const found = await attempt(() => request(readFinish, { params: { finish: other } }));
        if (found) setOthers((known) => ({ ...known, [other]: found.document }));
        return found?.document;
      },
      async rename(version, name) {
        await attempt(() => request(nameVersion, { params: { finish, version }, body: { name } }));
      },
    }),
    [list, documents, others, problem, refresh, hear, finish, attempt],
  );
}
