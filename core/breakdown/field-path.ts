/** Where in a draft a finding is: the way to its field, from the draft (or, with `technique` first, from the technique). */
export type FieldPath = readonly (string | number)[];
