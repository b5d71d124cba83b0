import { useAskingForm } from '../api/use-form';
import { TextOf } from '../ui/form';
import { type Access, accessEndpoints, endpoints, type Invitation, type Role, roles } from '@ulkret/contract';
import { useState } from 'react';
import { ask } from '../api/ask';
import { useHere } from '../api/signed-in';
import { useApi } from '../api/use-api';
import { useAsking } from '../api/use-asking';
import { Button } from '../ui/button';
import { DataTable } from '../ui/data-table';
import { Head, Page, Panel, Row } from '../ui/frame';
import { LinkToScan, secretAddress } from '../ui/link-to-scan';
import { List } from '../ui/list';
import { Select } from '../ui/select';
import { Empty, Loaded, Refused } from '../ui/states';
import { Title } from '../ui/title';
import { toast } from '../ui/toast';
import { dayOf } from '../ui/words';
import { roleWords } from './role-words';

const forGrown = roles.flatMap((role) =>
  role === 'student' ? [] : [{ value: role, text: role === 'head' ? 'head coach' : role }],
);
const options = roles.map((role) => ({ value: role, text: `${role}: ${roleWords[role]}` }));

/** Who may sign in, in which role; invitations that are open; for the head coach. */
export default function SignInAccess() {
  const { coach } = useHere();
  if (coach.role !== 'head')
    return (
      <Page>
        <Title>Who may sign in</Title>
        <Empty title="Head coach only.">
          <p>Ask them to invite somebody or change a role.</p>
        </Empty>
      </Page>
    );
  return <ForHead me={coach.id} />;
}

function ForHead({ me }: { me: string }) {
  const access = useApi(accessEndpoints.access);
  const { asking, refusal, busy } = useAsking();
  const change = (one: Access, to: { role: Role; open: boolean }) =>
    asking(async () => {
      const before = { role: one.role, open: one.closedAt === null };
      const save = async (body: typeof to) =>
        access.mutate(await ask(accessEndpoints.changeAccess, { params: { id: one.id }, body }), {
          revalidate: false,
        });
      await save(to);
      toast(to.open ? `${one.name}: ${to.role}` : `${one.name} can no longer sign in`, () => save(before));
    }, 'Nothing was changed.');
  const [wayBack, setWayBack] = useState<(Invitation & { secret: string }) | null>(null);
  const letBack = ({ id, name, role }: Access) =>
    asking(async () => {
      setWayBack(await ask(accessEndpoints.invite, { body: { role, name, coach: id } }));
      await access.mutate();
    }, 'No link was made.');
  const withdraw = (invitation: Invitation) =>
    asking(async () => {
      const told = await ask(accessEndpoints.withdrawInvitation, { params: { id: invitation.id } });
      await access.mutate(told, { revalidate: false });
      toast('Invitation revoked');
    }, 'The invitation still works.');
  return (
    <Page>
      <Head>
        <Title>Who may sign in</Title>
      </Head>
      <Invite made={() => void access.mutate()} />
      <Refused by={refusal} />
      {wayBack && (
        <Panel data-testid="way-back">
          <LinkToScan
            address={secretAddress('/join', wayBack.secret)}
            title={`${wayBack.name}: a new password`}
          >
            Works once, until {dayOf(wayBack.expiresAt)}. It opens access again and signs all their devices
            out. It is shown only now.
          </LinkToScan>
        </Panel>
      )}
      <Loaded of={access} what="who may">
        {({ people, invitations }) => (
          <>
            {invitations.length > 0 && (
              <Panel>
                <h2>Open invitations</h2>
                <List>
                  {invitations.map((one) => (
                    <li key={one.id}>
                      <span>
                        {one.name}, {one.coach === null ? one.role : 'a new password'}; until{' '}
                        {dayOf(one.expiresAt)}
                      </span>
                      <Button $quiet isDisabled={busy} onPress={() => void withdraw(one)}>
                        Revoke
                      </Button>
                    </li>
                  ))}
                </List>
              </Panel>
            )}
            <Panel>
              <People {...{ people, me, busy, change, letBack }} />
            </Panel>
          </>
        )}
      </Loaded>
    </Page>
  );
}

/** Everybody who may sign in, or might once. */
function People({
  people,
  me,
  busy,
  change,
  letBack,
}: {
  people: readonly Access[];
  me: string;
  busy: boolean;
  change: (one: Access, to: { role: Role; open: boolean }) => Promise<unknown>;
  letBack: (one: Access) => Promise<unknown>;
}) {
  return (
    <DataTable
      label="who may"
      rows={people}
      keyOf={({ id }) => id}
      wordsOf={({ name, email, role }) => `${name} ${email} ${role}`}
      columns={[
        { head: 'Name', cell: ({ name }) => name, by: ({ name }) => name },
        { head: 'Email', cell: ({ email }) => email, by: ({ email }) => email },
        {
          head: 'May',
          cell: (one) =>
            one.role === 'student' ? (
              'student'
            ) : (
              <Select
                unlabelled
                label={`What ${one.name} may`}
                options={forGrown}
                value={one.role}
                onChange={(role) => void change(one, { role, open: one.closedAt === null })}
              />
            ),
          by: ({ role }) => roles.indexOf(role),
        },
        {
          head: 'Last seen',
          cell: ({ seenAt, closedAt }) =>
            closedAt ? `blocked ${dayOf(closedAt)}` : seenAt ? dayOf(seenAt) : 'not recently',
          by: ({ seenAt }) => seenAt,
        },
        {
          head: '',
          cell: (one) =>
            one.id === me ? null : (
              <Row>
                <Button $quiet isDisabled={busy} onPress={() => void letBack(one)}>
                  New password
                </Button>
                <Button
                  $quiet
                  isDisabled={busy}
                  onPress={() => void change(one, { role: one.role, open: one.closedAt !== null })}
                >
                  {one.closedAt === null ? 'Block access' : 'Restore access'}
                </Button>
              </Row>
            ),
        },
      ]}
    />
  );
}

const nobody = '';

/** Makes a link by which one more comes in. */
function Invite({ made: onMade }: { made: () => void }) {
  const [made, setMade] = useState<(Invitation & { secret: string }) | null>(null);
  const start = { role: 'assistant' as Role, name: '', student: null, coach: null };
  const { control, values, put, submit, refusal, busy } = useAskingForm(
    accessEndpoints.invite.body,
    start,
    async (body, reset) => {
      setMade(await ask(accessEndpoints.invite, { body }));
      reset({ ...start, role: body.role });
      onMade();
    },
  );
  const forStudent = values.role === 'student';
  const roster = useApi(endpoints.students, forStudent ? {} : null);
  const here = (roster.data?.students ?? []).filter(({ archived }) => !archived);
  return (
    <Panel>
      <h2>Invite</h2>
      <form noValidate onSubmit={(event) => void submit(event)}>
        <Row>
          <Select
            above
            label="Role"
            options={options}
            value={values.role}
            // A card is one student’s, and is called after them.
            onChange={(role) => put({ role, name: '', student: null })}
          />
          {forStudent ? (
            <Select
              above
              label="Whose card"
              options={[
                { value: nobody, text: 'choose' },
                ...here.map((one) => ({ value: one.id, text: one.name })),
              ]}
              value={values.student ?? nobody}
              onChange={(id) => {
                const whose = here.find((one) => one.id === id);
                put({ student: whose?.id ?? null, name: whose?.name ?? '' });
              }}
            />
          ) : (
            <TextOf control={control} name="name" label="Who it is for" maxLength={80} />
          )}
          <Button type="submit" isDisabled={busy || values.name.trim() === ''}>
            Make a link
          </Button>
        </Row>
      </form>
      <Refused by={refusal} />
      {made && (
        <div data-testid="invitation">
          <LinkToScan address={secretAddress('/join', made.secret)} title={`Lets ${made.name} in`}>
            The first person to open it joins as {made.role}, until {dayOf(made.expiresAt)}. It is shown only
            now.
          </LinkToScan>
        </div>
      )}
    </Panel>
  );
}
