import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { changeMedia, type MediaDetail } from '@/api/media';
import { request } from '@/api/request';
import type { ShotDetail } from '@/api/shots';
import { shotKey } from '@/browser/session/use-shot-data';
import { type Encoding, encodings } from '@/core/colour/encoding';
import { type GapRule, gapRules } from '@/core/formats/gap-rules';
import { Options } from '../../parts/Options';
import { t } from '../../words/words';

type Props = { media: MediaDetail; shot: ShotDetail; className?: string };

/** How a media's files are read; a change holds for the whole shot. */
export function MediaFields({ media, shot, className }: Props) {
  const client = useQueryClient();
  const [problem, setProblem] = useState('');
  const change = async (body: Parameters<typeof request<typeof changeMedia>>[1]['body']) => {
    setProblem('');
    try {
      await request(changeMedia, { params: { media: media.id }, body });
    } catch (error) {
      setProblem((error as Error).message);
    }
    await client.invalidateQueries({ queryKey: shotKey(shot.id) });
  };
  return (
    <section className={className} aria-label={t`Media ${media.name}`} data-media={media.id}>
      <h3 className="font-semibold text-secondary">{media.name}</h3>
      <label className="flex items-center gap-2" title={t`How numbers in the files encode light.`}>
        {t`Encoding`}
        <select
          className="select select-xs ml-auto w-44 text-xs"
          value={media.encoding ?? ''}
          onChange={(e) => change({ encoding: (e.target.value as Encoding) || null })}
        >
          <option value="">{t`As the files say`}</option>
          <Options of={encodings} />
        </select>
      </label>
      <label className="flex items-center gap-2" title={t`What is used for a frame without a file.`}>
        <span className="whitespace-nowrap">{t`Missing frames`}</span>
        <select
          className="select select-xs ml-auto w-44 min-w-0 text-xs"
          value={media.gaps}
          onChange={(e) => change({ gaps: e.target.value as GapRule })}
        >
          <Options of={gapRules} />
        </select>
      </label>
      {problem && (
        <p role="alert" className="text-error">
          {problem}
        </p>
      )}
    </section>
  );
}
