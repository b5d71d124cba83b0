import { workerData } from 'node:worker_threads';
import type { Id } from '@ulkret/core/breakdown';
import { connect } from '../db/connect';
import { type Asked, Reader } from './read';

// Fits take a second and more: they are made in this thread, where no tap waits behind them.
const { url } = workerData as { url: string };
const reader = new Reader(connect(url, 2).db);

export const read = ({ academyId, asked }: { academyId: Id; asked: Asked }) => reader.read(academyId, asked);
export const rates = ({ academyId, asked }: { academyId: Id; asked: Asked }) =>
  reader.rates(academyId, asked);
export const decide = ({ academyId, technique }: { academyId: Id; technique: Id }) =>
  reader.decide(academyId, technique);
