import { lazy } from 'react';
import { Fold } from '../ui/fold';
import { readsWords, type Settings } from './settings';

const SettingsBar = lazy(() => import('./SettingsBar'));

/** What is read in one line, which opens to what can be set. */
export const WhatIsRead = ({ settings }: { settings: Settings }) => (
  <Fold says={readsWords(settings)}>{() => <SettingsBar settings={settings} />}</Fold>
);
