/** The event by which a button asks for the search that `/` opens. */
export const findAnything = 'ulkret-find';
