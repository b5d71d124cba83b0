/** Letters that a written reason has at least. */
export const shortestReason = 10;
