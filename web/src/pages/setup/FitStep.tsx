import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Typography from '@mui/material/Typography';
import { styled } from '@mui/material/styles';
import { useState } from 'react';
import { useParams } from 'react-router';
import { api, unwrap, type FitChild, type Schemas } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { OneOf } from '../../parts/OneOf';
import { dayWords } from '../../words/dates';
import { count } from '../../words/text';
import { FitCard } from './FitCard';
import { Read } from '../../parts/page';
import { useDirector } from '../../parts/useDirector';
import { useAction } from '../../parts/useAction';

const Line = styled(ButtonBase)(({ theme }) => ({
  flex: 'none',
  display: 'grid',
  gridTemplateColumns: '1fr auto',
  gap: theme.spacing(1),
  width: '100%',
  minHeight: 48,
  padding: theme.spacing(0.5, 1.5),
  textAlign: 'left',
  fontSize: '1rem',
  borderBottom: `1px solid ${theme.vars.palette.divider}`,
  '&[aria-current="true"]': {
    background: theme.vars.palette.background.paper,
    boxShadow: `inset 4px 0 ${theme.vars.palette.own.glow}`,
    fontWeight: 700,
  },
  '& .state': { color: theme.vars.palette.text.secondary, fontWeight: 400 },
  [theme.breakpoints.down('md')]: { width: 215, border: `1px solid ${theme.vars.palette.divider}` },
}));

function stateOf(child: FitChild): string {
  if (!child.measuredOn) return 'to measure';
  return child.measureAgain
    ? `again, ${dayWords(child.measuredOn)}`
    : (child.proposal?.proposed ?? 'no size');
}

/** A line of children to be measured: one child large, the next with one key. */
export function FitStep() {
  const { classId = '' } = useParams();
  const fit = $api.useQuery('get', '/api/classes/{class}/fit', ofClass(classId));
  const director = useDirector(classId);
  const [open, setOpen] = useState<string>();
  const [again, setAgain] = useState(false);
  return (
    <Read query={fit} what="The class is being read">
      {({ children, choices, facts, pinWay, remeasureAfterDays, today }) => {
        const due = children.filter(({ measureAgain }) => measureAgain);
        const line = again ? children.filter((child) => child.measureAgain || child.id === open) : children;
        const current = children.find(({ id }) => id === open) ?? line[0];
        const next = (step: 1 | -1) => {
          const at = line.findIndex(({ id }) => id === current?.id);
          const to = line[at + step];
          if (to) setOpen(to.id);
        };
        return (
          <Box
            sx={{
              height: '100%',
              display: 'grid',
              minHeight: 0,
              gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: '280px minmax(0, 1fr)' },
              gridTemplateRows: { xs: 'auto minmax(0, 1fr)', md: 'minmax(0, 1fr)' },
            }}
          >
            <Stack
              component="section"
              aria-label="The line"
              sx={{ minHeight: 0, borderRight: { md: 1 }, borderColor: { md: 'divider' } }}
            >
              <Stack direction="row" spacing={0.75} sx={{ flexWrap: 'wrap', p: 1 }}>
                <OneOf
                  name="Whom to measure"
                  value={again ? 'due' : 'all'}
                  options={[
                    ['all', 'Everyone'],
                    ['due', `To measure (${due.length})`],
                  ]}
                  onChoose={(whom) => setAgain(whom === 'due')}
                />
                {again && <Typography>Never measured, or {remeasureAfterDays} days ago and more.</Typography>}
              </Stack>
              <Box
                sx={{
                  display: 'flex',
                  flexDirection: { xs: 'row', md: 'column' },
                  overflow: 'auto',
                  minHeight: 0,
                  px: { xs: 1, md: 0 },
                  gap: { xs: 0.75, md: 0 },
                }}
              >
                {line.map((child) => (
                  <Line
                    key={child.id}
                    aria-current={child.id === current?.id}
                    onClick={() => setOpen(child.id)}
                  >
                    <span>{child.name}</span>
                    <span className="state">{stateOf(child)}</span>
                  </Line>
                ))}
              </Box>
              {line.length === 0 && (
                <Typography sx={{ p: 1.5 }}>
                  {children.length === 0
                    ? 'Nobody is in this class yet: begin with the roster.'
                    : 'Everybody was measured lately.'}
                </Typography>
              )}
            </Stack>
            <Box
              tabIndex={0}
              role="region"
              aria-label="The child"
              sx={{ overflow: 'auto', p: { xs: 1.5, sm: 2 } }}
            >
              {current && (
                <FitCard
                  key={current.id}
                  classId={classId}
                  child={current}
                  place={`${line.findIndex(({ id }) => id === current.id) + 1} of ${count(line.length, 'child', 'children')}`}
                  today={today}
                  facts={facts[current.instrument] ?? {}}
                  pinWay={pinWay}
                  ways={choices.filter(({ instruments }) => instruments.includes(current.instrument))}
                  mayChange={director}
                  onNext={() => next(1)}
                  onPrevious={() => next(-1)}
                />
              )}
              {current && director && (
                <Ways classId={classId} choices={choices} instrument={current.instrument} />
              )}
            </Box>
          </Box>
        );
      }}
    </Read>
  );
}

/** Where teachers disagree about this instrument's set-up. */
function Ways({
  classId,
  choices,
  instrument,
}: {
  classId: string;
  choices: Schemas['ChoiceView'][];
  instrument: Schemas['Instrument'];
}) {
  const action = useAction(classId);
  const take = (key: string, option: string) =>
    void action.run(() =>
      unwrap(
        api.PUT('/api/classes/{class}/choices', {
          params: { path: { class: classId } },
          body: { key, option },
        }),
      ),
    );
  return choices
    .filter(({ instruments }) => instruments.includes(instrument))
    .map(({ key, name, options, chosen }) => (
      <Box key={key} sx={{ mt: 2.5, maxWidth: 760 }}>
        <Typography variant="h3" component="h3" sx={{ mb: 0.75 }}>
          {name}: the class’s way
        </Typography>
        <OneOf
          name={name}
          value={chosen}
          options={options.map((option) => [option.id, option.name] as const)}
          onChoose={(option) => take(key, option)}
        />
        <Typography sx={{ mt: 0.75 }}>{options.find(({ id }) => id === chosen)?.means}</Typography>
      </Box>
    ));
}
