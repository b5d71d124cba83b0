import { endpoints, type KeptBackup } from '@ulkret/contract';
import { useState } from 'react';
import { ask } from '../api/ask';
import { useApi } from '../api/use-api';
import { useAsking } from '../api/use-asking';
import { Button } from '../ui/button';
import { Head, Page, Panel, Quiet } from '../ui/frame';
import { List } from '../ui/list';
import { Loaded, Refused } from '../ui/states';
import { Title } from '../ui/title';
import { toast } from '../ui/toast';
import { dayOf, many, timeOf } from '../ui/words';

const units = ['bytes', 'kB', 'MB', 'GB', 'TB'];
/** A size as it is read aloud. */
function sized(bytes: number): string {
  const power = Math.min(units.length - 1, Math.floor(Math.log10(Math.max(1, bytes)) / 3));
  const value = bytes / 1000 ** power;
  return `${value.toLocaleString(undefined, { maximumFractionDigits: value < 10 ? 1 : 0 })} ${units[power]}`;
}

/** The state of storage: backups, free space, and whether a backup can be restored. It holds nothing about people. */
export default function Backups() {
  const keeping = useApi(endpoints.keeping);
  const { asking, refusal, busy } = useAsking();
  const [tried, setTried] = useState<ReadonlyMap<string, number>>(new Map());
  const make = () =>
    asking(async () => {
      await keeping.mutate(await ask(endpoints.backUp), { revalidate: false });
      toast('Backup made');
    }, 'No backup was made.');
  const tryOne = ({ name }: KeptBackup) =>
    asking(async () => {
      const { rows } = await ask(endpoints.tryBackup, { params: { name } });
      setTried(new Map([...tried, [name, rows]]));
    }, 'It was not tried.');
  return (
    <Page>
      <Head>
        <div>
          <Title>Backups</Title>
          <Quiet>What this server does so that nothing is lost.</Quiet>
        </div>
      </Head>
      <Loaded of={keeping} what="the backups">
        {({ version, kept, databaseBytes, wrong }) => (
          <>
            {wrong.map((words) => (
              <Panel key={words} role="alert">
                <h2>{words}</h2>
                <p>Fix it on the server, then back up here.</p>
              </Panel>
            ))}
            <Panel>
              <h2>
                {kept?.backups[0]
                  ? `Last backup: ${dayOf(kept.backups[0].madeAt)} at ${timeOf(kept.backups[0].madeAt)}`
                  : kept
                    ? 'No backup yet.'
                    : 'Backups are made by your server’s admin.'}
              </h2>
              <Quiet>
                Ulkret {version}. The data take {sized(databaseBytes)}
                {kept && `, and ${sized(kept.diskFreeBytes)} are free where the backups lie`}.
              </Quiet>
              {kept && (
                <>
                  <Quiet>
                    Daily backups in {kept.folder}. Keeps 7 daily, 5 weekly, 6 monthly. Copy one elsewhere now
                    and then: a disk can fail. They are sealed: keep a copy of the key (house.key in the data
                    folder) apart from them.
                  </Quiet>
                  <Button isDisabled={busy} onPress={() => void make()}>
                    Back up now
                  </Button>
                </>
              )}
              <Refused by={refusal} />
            </Panel>
            {kept && kept.backups.length > 0 && (
              <Panel>
                <h2>{many(kept.backups.length, 'backup')}</h2>
                <Quiet>
                  “Test” restores a backup into a scratch copy, compares every table, then deletes the copy.
                  Once a month the server does it on its own.
                </Quiet>
                <List>
                  {kept.backups.map((one) => (
                    <li key={one.name}>
                      <span>
                        {dayOf(one.madeAt)} at {timeOf(one.madeAt)}, {sized(one.bytes)}
                        {tried.has(one.name)
                          ? `: restored whole, ${many(tried.get(one.name)!, 'row')} identical`
                          : one.triedAt && `: restored and compared ${dayOf(one.triedAt)}`}
                      </span>
                      <Button $quiet isDisabled={busy} onPress={() => void tryOne(one)}>
                        Test
                      </Button>
                    </li>
                  ))}
                </List>
              </Panel>
            )}
          </>
        )}
      </Loaded>
    </Page>
  );
}
