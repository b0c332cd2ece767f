import Stack from '@mui/material/Stack';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { keepPreviousData } from '@tanstack/react-query';
import { useState } from 'react';
import { useParams } from 'react-router';
import { api, basedOn, unwrap, type SeatPlan, type Seats } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { WISHES } from '../../words/reasons';
import { count } from '../../words/text';
import { Chairs } from './Chairs';
import { FileButton, Read, PageContent } from '../../parts/page';
import { RoomFields } from './RoomFields';
import { useCore } from '../../core/door';
import { changed } from './seating';
import { useDirector } from '../../parts/useDirector';
import { SavedMeanwhile, type Said } from '../../parts/SavedMeanwhile';
import { useAction } from '../../parts/useAction';
import { useDraft } from '../../parts/useDraft';

/** Who sits where: a proposal, moved by hand, with every broken wish named. */
export function SeatsStep() {
  const { classId = '' } = useParams();
  const seats = $api.useQuery('get', '/api/classes/{class}/seats', ofClass(classId));
  const mayChange = useDirector(classId);
  return (
    <Read query={seats} what="The seats are being read">
      {(stored) => <Plan classId={classId} stored={stored} mayChange={mayChange} />}
    </Read>
  );
}

/** What a plan says, for comparing two: the room, and everybody's chair. */
function says({ room, seats }: SeatPlan, children: Seats['children']): Said[] {
  const metres = (mm: number) => `${mm / 1000} m`;
  const chair = (id: string) => {
    const seat = seats.find(({ child }) => child === id);
    return seat ? `row ${seat.row}, chair ${seat.seat}${seat.locked ? ', stays' : ''}` : 'no chair yet';
  };
  return [
    ['Room', `${metres(room.widthMm)} by ${metres(room.depthMm)}, rows of ${room.rows.join(', ')}`],
    ...children.map(({ id, name }) => [name, chair(id)] as const),
  ];
}

interface Props {
  classId: string;
  stored: Seats;
  mayChange: boolean;
}

function Plan({ classId, stored, mayChange }: Props) {
  useCore();
  // What was changed here and is not kept yet; without it the stored plan shows, and follows others' changes.
  const draft = useDraft<SeatPlan>({ room: stored.room, seats: stored.seats }, stored.version);
  const [chosen, setChosen] = useState<string>();
  const action = useAction(classId);
  const { value: plan, change: setDraft, changed: isChanged } = draft;
  const path = { class: classId };
  const look = $api.useQuery(
    'post',
    '/api/classes/{class}/seats',
    { params: { path }, body: { plan, propose: false } },
    { enabled: isChanged, placeholderData: keepPreviousData, staleTime: Infinity, retry: false },
  );
  const seen = !isChanged ? stored : (look.data ?? stored);
  const propose = (next: SeatPlan) =>
    void action.run(async () => {
      const proposal = await unwrap(
        api.POST('/api/classes/{class}/seats', { params: { path }, body: { plan: next, propose: true } }),
      );
      setDraft({ room: proposal.room, seats: proposal.seats });
    });
  const keep = async (version: string | undefined) => {
    const saved = await action.run(() =>
      unwrap(
        api.PUT('/api/classes/{class}/seats', { params: { path }, headers: basedOn(version), body: plan }),
      ),
    );
    if (saved) draft.saved(plan);
  };
  const { children } = stored;
  const sitter = children.find(({ id }) => id === chosen);
  const seat = plan.seats.find(({ child }) => child === chosen);
  const waiting = children.filter(({ id }) => !plan.seats.some(({ child }) => child === id));
  const { needs } = seen;
  const unkept = seen.broken.reduce((sum, { children: whose }) => sum + whose.length, 0);
  return (
    <PageContent
      name="Seating"
      bar={
        <>
          {mayChange && (
            <>
              <Button
                variant={isChanged ? 'outlined' : 'contained'}
                loading={action.busy}
                onClick={() => propose(plan)}
              >
                Propose seats
              </Button>
              {/* While a proposal is on its way it is not known what would be saved. */}
              <Button
                variant="contained"
                disabled={!isChanged || action.busy}
                onClick={() => void keep(draft.basedOn)}
              >
                Save these seats
              </Button>
              <Button disabled={!isChanged || action.busy} onClick={draft.drop}>
                As they were
              </Button>
            </>
          )}
          <FileButton href={`/api/classes/${classId}/seats.pdf?side=podium`}>Chart, podium’s side</FileButton>
          <FileButton href={`/api/classes/${classId}/seats.pdf?side=class`}>Chart, class’s side</FileButton>
        </>
      }
    >
      <Box
        sx={{
          display: 'grid',
          gap: 2,
          gridTemplateColumns: { xs: 'minmax(0, 1fr)', lg: 'minmax(0, 1fr) 300px' },
        }}
      >
        <Box sx={{ minWidth: 0 }}>
          <SavedMeanwhile
            action={action}
            mine={plan}
            says={(one) => says(one, children)}
            onMine={(version) => void keep(version)}
            onTheirs={draft.drop}
          />
          {children.length === 0 ? (
            <Typography sx={{ py: 3 }}>Nobody is in this class yet: begin with the roster.</Typography>
          ) : (
            <Chairs
              plan={plan}
              children={children}
              waiting={waiting}
              broken={new Set(seen.broken.flatMap(({ children: whose }) => whose))}
              walk={seen.walk}
              chosen={chosen}
              mayChange={mayChange}
              onChoose={setChosen}
              onMove={(child, chair) => setDraft(changed(plan, { move: { child, ...chair } }))}
            />
          )}
        </Box>
        <Box sx={{ display: 'grid', gap: 2, alignContent: 'start' }}>
          <Box component="section" aria-label="Wishes">
            <Typography variant="h3" component="h2">
              {unkept === 0 ? 'Every wish is kept' : `${count(unkept, 'wish', 'wishes')} not kept`}
            </Typography>
            <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
              {seen.broken.map(({ wish, children: whose }) => (
                <li key={wish}>
                  {WISHES[wish]}: {whose.map((id) => children.find((one) => one.id === id)?.name).join(', ')}
                </li>
              ))}
            </Box>
          </Box>
          {sitter && (
            <Stack direction="row" spacing={1} role="status" sx={{ alignItems: 'center' }}>
              <Typography sx={{ flex: 1 }}>
                <strong>{sitter.name}</strong>, {sitter.instrument}
                {sitter.heightMm !== undefined && `, ${sitter.heightMm} mm tall`}
              </Typography>
              {seat && mayChange && (
                <Button variant="outlined" onClick={() => setDraft(changed(plan, { lock: sitter.id }))}>
                  {seat.locked ? 'Unlock' : 'Lock'}
                </Button>
              )}
            </Stack>
          )}
          {mayChange && (
            <RoomFields
              room={plan.room}
              onRoom={(size) => setDraft({ ...plan, room: { ...plan.room, ...size } })}
              onRows={(rows) => propose(changed(plan, { evenRows: { rows, children: children.length } }))}
              onChairs={(rows) => setDraft(changed(plan, { rows }))}
            />
          )}
          {needs.chairsTooMany > 0 && (
            <Alert severity="warning">
              {count(needs.chairsTooMany, 'chair')} too many for this room: the rows take{' '}
              {metres(needs.widthMm)} × {metres(needs.depthMm)}.{' '}
              {needs.rowsThatFit
                ? `${count(needs.rowsThatFit.length, 'row')} would do.`
                : 'No number of rows would do: fewer children at once, or another room.'}
              {needs.rowsThatFit && mayChange && (
                <Button onClick={() => propose(changed(plan, { rows: needs.rowsThatFit ?? [] }))}>
                  Take that
                </Button>
              )}
            </Alert>
          )}
          {action.error && <Alert severity="error">{action.error}</Alert>}
        </Box>
      </Box>
    </PageContent>
  );
}

function metres(mm: number): string {
  return `${(mm / 1000).toFixed(1)} m`;
}
