import { addressOf } from '@/api/contract';
import { readThumbnail } from '@/api/media';

/** A small picture of a layer as it came, kept by the server since its frame arrived. */
export type SmallLayer = { media: number; frame: number; content: string; opacity: number };

type Props = { layers: readonly SmallLayer[]; alt?: string; className?: string };

/** The layers of a frame over one another, without any step: shown at once, until the finished picture is there. */
export const FlatPicture = ({ layers, alt = '', className = '' }: Props) => (
  <span className={`relative block h-full w-full bg-black ${className}`}>
    {layers.map(({ media, frame, content, opacity }, i) => (
      <img
        // biome-ignore lint/suspicious/noArrayIndexKey: a layer may be there twice
        key={`${media}/${i}`}
        src={addressOf(readThumbnail, { params: { media, frame }, query: { content } })}
        alt={i === 0 ? alt : ''}
        draggable={false}
        className="absolute inset-0 h-full w-full object-cover"
        style={opacity < 1 ? { opacity } : undefined}
      />
    ))}
  </span>
);
