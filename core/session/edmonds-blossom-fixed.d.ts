declare module 'edmonds-blossom-fixed' {
  /** Mates by vertex (-1: none) of a maximum-weight matching; edges are [vertex, vertex, whole weight]. */
  export default function matching(edges: [number, number, number][], maxCardinality?: boolean): number[];
}
