import { TriangleAlert } from 'lucide-react';
import { useEffect, useState } from 'react';
import { encodings as allEncodings } from '@/core/colour/encoding';
import { type GapRule, gapRules } from '@/core/formats/gap-rules';
import { rangesInWords } from '@/core/formats/sequences';
import { Options } from '../parts/Options';
import { t } from '../words/words';
import { type Found, type Look, lookInto, megabytes } from './found';

type Props = {
  found: Found[];
  chosen: Set<string>;
  onChoose(chosen: Set<string>): void;
  encodings: Record<string, string>;
  onEncoding(key: string, encoding: string): void;
  onGapRule(key: string, rule: GapRule): void;
  ignored: number;
};

/** Looks into sequences one after another, so that a long list does not keep the page. */
function useLooks(found: Found[]): Record<string, Look> {
  const [looks, setLooks] = useState<Record<string, Look>>({});
  const keys = found.map((f) => f.key).join('\n');
  // biome-ignore lint/correctness/useExhaustiveDependencies: the keys stand for the list, which changes with each choice
  useEffect(() => {
    let current = true;
    setLooks({});
    (async () => {
      for (const f of found.slice(0, 200)) {
        const look = await lookInto(f);
        if (!current) return;
        setLooks((known) => ({ ...known, [f.key]: look }));
      }
    })();
    return () => {
      current = false;
    };
  }, [keys]);
  return looks;
}

/** The sequences that were found, and how each is to be read. */
export function SequenceTable({ found, chosen, onChoose, encodings, onEncoding, onGapRule, ignored }: Props) {
  const looks = useLooks(found);
  // What cannot be read is not imported.
  const unreadable = found.filter((f) => isUnreadable(looks[f.key])).map((f) => f.key);
  useEffect(() => {
    if (unreadable.some((key) => chosen.has(key)))
      onChoose(new Set([...chosen].filter((key) => !unreadable.includes(key))));
  });
  const readable = found.filter((f) => !isUnreadable(looks[f.key]));
  const all = readable.length > 0 && readable.every((f) => chosen.has(f.key));
  const toggle = (key: string) => {
    const next = new Set(chosen);
    if (!next.delete(key)) next.add(key);
    onChoose(next);
  };
  return (
    <table className="table table-sm">
      <thead className="sticky top-0 z-10 bg-base-100 text-xs text-quiet">
        <tr>
          <th className="w-8">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              aria-label={t`All sequences`}
              checked={all}
              onChange={() => onChoose(new Set(all ? [] : readable.map((f) => f.key)))}
            />
          </th>
          <th>{t`Sequence`}</th>
          <th>{t`Frames`}</th>
          <th>{t`Picture`}</th>
          <th>{t`Missing frames`}</th>
          <th>{t`Encoding`}</th>
        </tr>
      </thead>
      <tbody>
        {found.map((f) => {
          const look = looks[f.key];
          const first = f.frames[0];
          const last = f.frames[f.frames.length - 1];
          const missing = f.gaps.reduce((sum, [a, b]) => sum + b - a + 1, 0);
          return (
            <tr key={f.key} data-sequence={f.name} className="align-top">
              <td>
                <input
                  type="checkbox"
                  className="checkbox checkbox-sm"
                  aria-label={f.name}
                  checked={chosen.has(f.key)}
                  disabled={isUnreadable(look)}
                  onChange={() => toggle(f.key)}
                />
              </td>
              <td className="max-w-56">
                <span className="block truncate font-medium" title={f.pattern}>
                  {f.name}
                </span>
                <span className="block truncate text-xs text-quiet">
                  {f.folder && `${f.folder} · `}
                  {megabytes(f.bytes)}
                </span>
              </td>
              <td className="whitespace-nowrap">
                {f.frames.length === 1 ? t`still` : `${first}–${last}`}
                <span className="block text-xs text-quiet">
                  {f.frames.length === 1 ? '' : t`${f.frames.length} files`}
                </span>
                {missing > 0 && (
                  <span
                    className="flex items-start gap-1 text-xs whitespace-normal text-warning"
                    data-gaps={rangesInWords(f.gaps)}
                  >
                    <TriangleAlert size={13} className="mt-0.5 shrink-0" />{' '}
                    {t`${missing} missing: ${rangesInWords(f.gaps)}`}
                  </span>
                )}
              </td>
              <td className="max-w-64">
                <Looked look={look} />
              </td>
              <td>
                {f.frames.length > 1 && (
                  <select
                    className="select select-xs w-40"
                    aria-label={t`Missing frames, ${f.name}`}
                    value={f.gapRule}
                    onChange={(e) => onGapRule(f.key, e.target.value as GapRule)}
                  >
                    <Options of={gapRules} />
                  </select>
                )}
              </td>
              <td>
                <select
                  className="select select-xs w-36"
                  aria-label={t`Encoding, ${f.name}`}
                  value={encodings[f.key] ?? ''}
                  onChange={(e) => onEncoding(f.key, e.target.value)}
                >
                  <option value="">
                    {/\.(exr|hdr|pic)$/i.test(f.pattern) ? t`Linear, as usual` : t`sRGB, as usual`}
                  </option>
                  <Options of={allEncodings} />
                </select>
              </td>
            </tr>
          );
        })}
      </tbody>
      {ignored > 0 && (
        <tfoot>
          <tr>
            <td colSpan={6} className="text-xs font-normal text-quiet">
              {t`${ignored} other files are no pictures and are left out.`}
            </td>
          </tr>
        </tfoot>
      )}
    </table>
  );
}

const isUnreadable = (look: Look | undefined) => look !== undefined && 'problem' in look;

function Looked({ look }: { look: Look | undefined }) {
  if (!look) return <span className="text-xs text-quiet">{t`looking…`}</span>;
  if ('problem' in look) return <span className="text-xs text-error">{look.problem}</span>;
  const names = look.passes.join(', ');
  return (
    <>
      {look.width > 0 ? `${look.width} × ${look.height}` : t`picture`}
      <span className="line-clamp-2 text-xs text-quiet" title={names}>
        {look.passes.length > 1 ? t`${look.passes.length} passes: ${names}` : names}
      </span>
    </>
  );
}
