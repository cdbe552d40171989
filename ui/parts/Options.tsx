/** The options of a select, from keys and their names. */
export const Options = ({ of }: { of: Readonly<Record<string, string>> }) =>
  Object.entries(of).map(([key, name]) => (
    <option key={key} value={key}>
      {name}
    </option>
  ));
