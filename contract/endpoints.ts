import { accessEndpoints } from './access';
import { classEndpoints } from './class';
import { factsEndpoints } from './facts';
import { keepingEndpoints } from './keeping';
import { libraryEndpoints } from './library';
import { peopleEndpoints } from './people';
import { prescriptionsEndpoints } from './prescriptions';
import { readingsEndpoints } from './readings';
import { rulesEndpoints } from './rules';

/** Every path, by the name that the program calls it. */
export const endpoints = {
  ...keepingEndpoints,
  ...accessEndpoints,
  ...libraryEndpoints,
  ...peopleEndpoints,
  ...classEndpoints,
  ...rulesEndpoints,
  ...factsEndpoints,
  ...readingsEndpoints,
  ...prescriptionsEndpoints,
} as const;

export type Endpoints = typeof endpoints;
