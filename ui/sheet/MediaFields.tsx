import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { encodings } from '@/core/colour/encoding';
import { gapRules } from '@/core/formats/gap-rules';
import type { MediaDetail, ShotDetail } from '@/server/shots/shots';
import { Options } from '../parts/Options';

type Props = { media: MediaDetail; shot: ShotDetail; className?: string };

/** How a media's files are read; a change holds for the whole shot. */
export function MediaFields({ media, shot, className }: Props) {
  const client = useQueryClient();
  const [problem, setProblem] = useState('');
  const change = async (part: object) => {
    setProblem('');
    const response = await fetch(`/api/media/${media.id}`, {
      method: 'PATCH',
      body: JSON.stringify(part),
    }).catch(() => null);
    const told = await response?.json().catch(() => null);
    if (!response?.ok) setProblem(told?.error ?? 'The server does not answer. Try again.');
    await client.invalidateQueries({ queryKey: ['shot', shot.id] });
  };
  return (
    <section className={className} aria-label={`Media ${media.name}`}>
      <h3 className="font-semibold text-secondary">{media.name}</h3>
      <label className="flex items-center gap-2" title="How the numbers in the files stand for light.">
        Encoding
        <select
          className="select select-xs ml-auto w-44 text-xs"
          value={media.encoding ?? ''}
          onChange={(e) => change({ encoding: e.target.value || null })}
        >
          <option value="">As the files say</option>
          <Options of={encodings} />
        </select>
      </label>
      <label className="flex items-center gap-2" title="What stands for a frame that has no file.">
        No file
        <select
          className="select select-xs ml-auto w-44 text-xs"
          value={media.gaps}
          onChange={(e) => change({ gaps: e.target.value })}
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
