/**
 * The critique. What it knows of language takes half a second to load and forty megabytes: it comes when somebody first needs
 * it, and not while the server starts.
 */
export const critic = async () => (await import('@ulkret/core/breakdown/critique')).critique;
