/** Why something could not be done. */
export const Problem = ({ words }: { words: string }) =>
  words ? (
    <p role="alert" className="text-error">
      {words}
    </p>
  ) : null;
