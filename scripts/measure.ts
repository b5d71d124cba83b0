import { beltLength, Circle } from '@ulkret/core/measure';
import { z } from 'zod';
import { printJson, readJsonFile } from './json-file';
import { Trouble } from './trouble';

const usage = `npm run -s measure -- belt FILE
  FILE   { "circles": [{ "x", "y", "r" }, …] } in centimetres; prints { "length" } of a taut belt around them`;

/** `npm run measure`: the tools of the bench, one figure at a time. */
export function run([what, file]: string[]): void {
  if (what !== 'belt') throw new Trouble(usage);
  const { circles } = readJsonFile(file, z.object({ circles: z.array(Circle) }), usage);
  printJson({ length: beltLength(circles) });
}
