/** The squad as a whole has its own row and its own strand; this is its name in the address. */
export const squad = 'squad';
