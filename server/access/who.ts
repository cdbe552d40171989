/** Who asks for something. */
export type Who = {
  /** None for the keeper of a server that answers to its own machine alone. */
  account: number | undefined;
  name: string;
  isAdmin: boolean;
  /** May make projects: said by administrators, who always may. */
  makesProjects: boolean;
  /** How one is known: by being at this machine, by a browser's session, or by a token, which may do no more than its scope. */
  by: 'keeper' | 'session' | 'token';
  scope?: 'look' | 'edit' | 'node' | 'metrics';
  /** Hash of the session. */
  session?: string;
};

/** Whoever is at the machine, where the server answers to nobody else: may do everything, and signs in nowhere. */
export const keeper: Who = {
  account: undefined,
  name: 'this machine',
  isAdmin: true,
  makesProjects: true,
  by: 'keeper',
};

/** Whoever has not signed in, for routes that ask nobody. */
export const nobody: Who = { ...keeper, name: 'nobody', isAdmin: false, makesProjects: false };

/** The server answers to others, and everything needs a session or a token. */
export const isShared = () => process.env.ZAFIRO_SIGN_IN === '1';
