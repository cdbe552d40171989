import { Fragment } from 'react';

/** A name on a card. From afar its words stand apart, so that a long one ends in an ellipsis instead of breaking. */
export const CardName = ({ name, className = '' }: { name: string; className?: string }) => (
  <span className={`card-name truncate ${className}`}>
    {name.split(' ').map((word, i) => (
      // biome-ignore lint/suspicious/noArrayIndexKey: words have no other name
      <Fragment key={i}>
        {i > 0 && ' '}
        <span className="card-word">{word}</span>
      </Fragment>
    ))}
  </span>
);
