import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Stack from '@mui/material/Stack';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Typography from '@mui/material/Typography';
import { styled } from '@mui/material/styles';
import type { ReactNode } from 'react';
import type { Schemas } from '../../api/client';
import { Toggle } from '../../parts/Toggle';
import { ANSWERS, FACTS_SEEN, SENSES, SPLITS } from '../../words/causes';
import { PAIN_NOW, SORE_TIPS_NOW } from '../../words/looks';

type Symptom = Schemas['SymptomView'];
type Answer = Schemas['Answer'];

const Sign = styled(Toggle)({ minHeight: 44, borderRadius: 12 });

/** What is picked. */
export interface Picked {
  symptoms: string[];
  answers: Answer[];
  facts: string[];
}

interface Props {
  symptoms: Symptom[];
  picked: Picked;
  onPick: (picked: Picked) => void;
}

const flip = <T,>(all: T[], one: T) =>
  all.includes(one) ? all.filter((other) => other !== one) : [...all, one];

/** With one symptom more, or one less. */
export function withSymptom(symptoms: Symptom[], picked: Picked, id: string): Picked {
  const next = flip(picked.symptoms, id);
  const asked = symptoms.filter((symptom) => next.includes(symptom.id)).flatMap(({ asks }) => asks);
  // What was answered to a question that nothing asks any more is forgotten.
  const answers = picked.answers.filter((answer) => asked.some((split) => SPLITS[split].includes(answer)));
  return { ...picked, symptoms: next, answers };
}

/** The symptoms as large keys, and what was seen on the instrument. */
export function SymptomKeys({ symptoms, picked, onPick }: Props) {
  return (
    <Box sx={{ display: 'grid', gap: 1.5, alignContent: 'start' }}>
      {SENSES.map(([how, name]) => (
        <Group key={how} name={name}>
          {symptoms
            .filter((symptom) => symptom.how === how)
            .map(({ id, name }) => (
              <Sign
                key={id}
                on={picked.symptoms.includes(id)}
                onClick={() => onPick(withSymptom(symptoms, picked, id))}
              >
                {name}
              </Sign>
            ))}
        </Group>
      ))}
      <Group name="On the instrument">
        {FACTS_SEEN.map(([id, name]) => (
          <Sign
            key={id}
            on={picked.facts.includes(id)}
            onClick={() => onPick({ ...picked, facts: flip(picked.facts, id) })}
          >
            {name}
          </Sign>
        ))}
      </Group>
    </Box>
  );
}

/** What splits the symptoms picked: it stands beside the causes, so that no key moves under the finger. */
export function Splits({ symptoms, picked, onPick }: Props) {
  const chosen = symptoms.filter(({ id }) => picked.symptoms.includes(id));
  const splits = [...new Set(chosen.flatMap(({ asks }) => asks))];
  const answer = (split: Schemas['Split'], one: Answer | null) => {
    const others = picked.answers.filter((answer) => !SPLITS[split].includes(answer));
    onPick({ ...picked, answers: one ? [...others, one] : others });
  };
  if (splits.length === 0) return null;
  return (
    <Group name="One more tap, if you know">
      {splits.map((split) => (
        <ToggleButtonGroup
          key={split}
          exclusive
          value={picked.answers.find((answer) => SPLITS[split].includes(answer)) ?? null}
          onChange={(_, one: Answer | null) => answer(split, one)}
        >
          {SPLITS[split].map((one) => (
            <ToggleButton key={one} value={one} sx={{ minHeight: 44 }}>
              {ANSWERS[one]}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      ))}
    </Group>
  );
}

/** What is to be done first where something hurts. */
export function HurtsCaution({ symptoms, picked }: Omit<Props, 'onPick'>) {
  const hurting = symptoms.filter(({ id, how }) => how === 'hurts' && picked.symptoms.includes(id));
  if (hurting.length === 0) return null;
  return hurting.every(({ normal }) => normal) ? (
    <Alert severity="info">{SORE_TIPS_NOW}</Alert>
  ) : (
    <Alert severity="warning">{PAIN_NOW}</Alert>
  );
}

function Group({ name, children }: { name: string; children: ReactNode }) {
  return (
    <Box>
      <Typography variant="h3">{name}</Typography>
      <Stack direction="row" role="group" aria-label={name} sx={{ flexWrap: 'wrap', gap: 0.75, pt: 0.5 }}>
        {children}
      </Stack>
    </Box>
  );
}
