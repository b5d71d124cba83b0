import { endpoints, type InputOf } from '@ulkret/contract';
import { Weekday } from '@ulkret/core/reading';
import { type RefObject, useState } from 'react';
import { ask } from '../api/ask';
import { useHere, useSession } from '../api/signed-in';
import { useAsking } from '../api/use-asking';
import { findAnything } from './find-anything';
import { syncWords } from '../device/sync-state';
import { useSyncState } from '../device/use-outbox';
import { Button } from '../ui/button';
import { leave } from './leave';
import { ButtonLink } from '../ui/button-link';
import { Choice } from '../ui/choice';
import { Select } from '../ui/select';
import { Quiet } from '../ui/frame';
import { Popover } from '../ui/popover';
import { applyTheme, readTheme, type Theme } from '../ui/theme';
import { copy } from '../ui/copy';
import { toast } from '../ui/toast';
import { deviceZone } from '../ui/zone';

export interface HouseMenuProps {
  /** Next to what it opens. */
  at: RefObject<HTMLElement | null>;
  close: () => void;
}

const named = (day: Weekday): string => day[0]!.toUpperCase() + day.slice(1);

/** The menu behind the academy's name: the look, files, and signing out. */
export default function AcademyMenu({ at, close }: { at: RefObject<HTMLElement | null>; close: () => void }) {
  const { coach, academy } = useHere();
  const sync = useSyncState();
  const [theme, setTheme] = useState<Theme>(readTheme);
  const { asking, refusal } = useAsking();
  const [asked, setAsked] = useState(false);
  const signOut = async () => {
    // Unsent entries stay on the device for their coach: the user hears of it before signing out, not after.
    if (sync.waiting > 0 && !asked) {
      setAsked(true);
      return;
    }
    await asking(async () => {
      await ask(endpoints.signOut);
      await leave();
    }, 'You are still signed in.');
  };
  return (
    <Popover label="Academy" at={at} close={close}>
      <div>
        <h2>{academy.name}</h2>
        <Quiet>
          {coach.name}, {coach.role === 'head' ? 'head coach' : coach.role} · {syncWords(sync)}
        </Quiet>
      </div>
      {(sync.waiting > 0 || sync.refused.length > 0) && (
        <ButtonLink to="/unsent" $quiet onClick={close}>
          Unsent entries
        </ButtonLink>
      )}
      <Button
        $quiet
        onPress={() => {
          close();
          window.dispatchEvent(new Event(findAnything));
        }}
      >
        Find anything
      </Button>
      {refusal && (
        <p role="alert">
          {refusal.message} {refusal.todo}
        </p>
      )}
      <Choice
        label="Look"
        value={theme}
        options={[
          { value: 'system', text: 'As the device' },
          { value: 'light', text: 'Light' },
          { value: 'dark', text: 'Dark' },
        ]}
        onChange={(value) => {
          setTheme(value);
          applyTheme(value);
        }}
      />
      <AcademySettings asking={asking} />
      <Button
        $quiet
        onPress={() => {
          void copy(window.location.href, 'Link copied');
          close();
        }}
      >
        Copy the link to this page
      </Button>
      <Pages head={coach.role === 'head'} close={close} />
      {asked && (
        <p role="alert">
          {sync.waiting} not sent. They stay on this device until you sign in again; everything else is
          removed.
        </p>
      )}
      <Button $quiet onPress={() => void signOut()}>
        {asked ? 'Sign out anyway' : 'Sign out'}
      </Button>
    </Popover>
  );
}

/** Units, weeks and time zone of the academy; a head coach sets them. */
function AcademySettings({ asking }: Pick<ReturnType<typeof useAsking>, 'asking'>) {
  const { coach, academy } = useHere();
  const { mutate } = useSession();
  type Changed = InputOf<typeof endpoints.saveAcademy>['body'];
  const put = async (body: Changed) =>
    mutate(await ask(endpoints.saveAcademy, { body }), { revalidate: false });
  /** Keeps it, and says so once it is kept, with the way back. */
  const save = (body: Changed, saved?: () => void) =>
    asking(async () => {
      await put(body);
      saved?.();
    }, 'Not changed.');
  return (
    <>
      {coach.role === 'head' && (
        <Choice
          label="Units"
          value={academy.units}
          options={[
            { value: 'kg and cm', text: 'kg, cm' },
            { value: 'lb and ft', text: 'lb, ft' },
          ]}
          onChange={(units) => void save({ units })}
        />
      )}
      {coach.role === 'head' && (
        <Select
          label="Weeks begin on"
          value={academy.weekBegins}
          options={Weekday.options.map((day) => ({
            value: day,
            text: named(day),
          }))}
          onChange={(weekBegins) => {
            const before = academy.weekBegins;
            void save({ weekBegins }, () =>
              toast(`Weeks begin on ${named(weekBegins)}`, () => put({ weekBegins: before })),
            );
          }}
        />
      )}
      {deviceZone() !== academy.zone && (
        <>
          <Quiet>
            Days follow {academy.zone}; this device uses {deviceZone()}.
          </Quiet>
          {coach.role === 'head' && (
            <Button
              $quiet
              onPress={() => {
                const [zone, before] = [deviceZone(), academy.zone];
                void save({ zone }, () => toast(`Days follow ${zone}`, () => put({ zone: before })));
              }}
            >
              Use this device’s time zone
            </Button>
          )}
        </>
      )}
    </>
  );
}

function Pages({ head, close }: { head: boolean; close: () => void }) {
  return (
    <>
      <ButtonLink to="/data" $quiet onClick={close}>
        Data: files in and out
      </ButtonLink>
      <ButtonLink to="/rules" $quiet onClick={close}>
        Academy rules
      </ButtonLink>
      {head && (
        <>
          <ButtonLink to="/access" $quiet onClick={close}>
            Who may sign in
          </ButtonLink>
          <ButtonLink to="/access-log" $quiet onClick={close}>
            Access log
          </ButtonLink>
          <ButtonLink to="/backups" $quiet onClick={close}>
            Backups
          </ButtonLink>
        </>
      )}
      <ButtonLink to="/account" $quiet onClick={close}>
        Your account
      </ButtonLink>
    </>
  );
}
