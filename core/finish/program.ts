/** The version of the program, as `package.json` has it. */
export const programVersion = '0.1.0';
