import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import type { Instrument } from '../../api/client';
import { Card } from '../../parts/page';
import { Toggle } from '../../parts/Toggle';
import { capital } from '../../words/text';
import { DRILL_LEVELS } from '../../words/drills';
import {
  commonText,
  flipOnly,
  isPlayed,
  MAX_STEPS,
  withCommonText,
  wordsOf,
  type Drill,
  type DrillLevel,
  type DrillStep,
} from './drillDraft';

interface Props {
  drill: Drill;
  problemOf: (field: string) => string | undefined;
  onChange: (steps: DrillStep[]) => void;
}

/** The steps of a drill: beats, what somebody holds or presses, and what each instrument does. */
export function DrillSteps({ drill, problemOf, onChange }: Props) {
  const { steps, on } = drill;
  const change = (index: number, step: DrillStep) =>
    onChange(steps.map((other, at) => (at === index ? step : other)));
  const blank: DrillStep = {
    beats: 4,
    text: Object.fromEntries(on.map((instrument) => [instrument, ''])),
  };
  return (
    <Box component="section" aria-label="Steps" sx={{ display: 'grid', gap: 1 }}>
      {steps.map((step, index) => (
        <StepCard
          key={index}
          number={index + 1}
          step={step}
          on={on}
          levels={drill.levels ?? []}
          problemOf={(field) => problemOf(`steps.${index}.${field}`)}
          onChange={(next) => change(index, next)}
          onRemove={steps.length > 1 ? () => onChange(steps.filter((_, at) => at !== index)) : undefined}
        />
      ))}
      {problemOf('steps') && <Box role="alert">{problemOf('steps')}</Box>}
      <Button
        variant="outlined"
        disabled={steps.length >= MAX_STEPS}
        sx={{ justifySelf: 'start' }}
        onClick={() => onChange([...steps, blank])}
      >
        Add a step
      </Button>
    </Box>
  );
}

interface StepProps {
  number: number;
  step: DrillStep;
  on: Instrument[];
  /** Those of the drill. */
  levels: DrillLevel[];
  problemOf: (field: string) => string | undefined;
  onChange: (step: DrillStep) => void;
  onRemove: (() => void) | undefined;
}

function StepCard({ number, step, on, levels, problemOf, onChange, onRemove }: StepProps) {
  const common = commonText(step);
  const [apart, setApart] = useState(common === undefined);
  const [say, setSay] = useState((step.say ?? []).join(' '));
  const whole = (text: string) => Number.parseInt(text, 10) || 0;
  const numeric = (key: 'beats' | 'repeats', label: string) => (
    <TextField
      label={label}
      size="small"
      sx={{ width: 104 }}
      value={String(step[key] ?? 1)}
      error={problemOf(key) !== undefined}
      helperText={problemOf(key)}
      slotProps={{ htmlInput: { inputMode: 'numeric' } }}
      onChange={(event) => onChange({ ...step, [key]: whole(event.target.value) })}
    />
  );
  const textField = (label: string, text: string, set: (text: string) => void) => (
    <TextField
      key={label}
      label={label}
      size="small"
      multiline
      value={text}
      error={text.length > 90 || problemOf('text') !== undefined}
      helperText={problemOf('text') ?? `${text.length} of 90 characters`}
      onChange={(event) => set(event.target.value)}
    />
  );
  return (
    <Card aria-label={`Step ${number}`} sx={{ p: 1.5, display: 'grid', gap: 1.25 }}>
      <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap', alignItems: 'center', rowGap: 1 }}>
        <strong>Step {number}</strong>
        {numeric('beats', 'Beats')}
        {numeric('repeats', 'Times')}
        <Toggle on={step.load ?? false} onClick={() => onChange({ ...step, load: !step.load })}>
          Holds or presses
        </Toggle>
        <Box sx={{ flex: 1 }} />
        <IconButton aria-label={`Leave out step ${number}`} disabled={!onRemove} onClick={onRemove}>
          ×
        </IconButton>
      </Stack>
      {levels.length > 1 && (
        <Stack
          direction="row"
          spacing={0.75}
          role="group"
          aria-label={`When step ${number} is played`}
          sx={{ flexWrap: 'wrap', rowGap: 0.75 }}
        >
          <Toggle on={step.quiet ?? false} onClick={() => onChange({ ...step, quiet: !step.quiet })}>
            A rest in the music
          </Toggle>
          {levels.map((level) => (
            <Toggle
              key={level}
              on={isPlayed(step, level)}
              onClick={() => onChange(flipOnly(step, level, levels))}
            >
              {DRILL_LEVELS[level]}
            </Toggle>
          ))}
        </Stack>
      )}
      {problemOf('only') && <Box role="alert">{problemOf('only')}</Box>}
      {apart || common === undefined
        ? on.map((instrument) =>
            textField(capital(instrument), step.text[instrument] ?? '', (text) =>
              onChange({ ...step, text: { ...step.text, [instrument]: text } }),
            ),
          )
        : textField('For everybody', common, (text) => onChange(withCommonText(step, text)))}
      <Stack direction="row" spacing={1} sx={{ alignItems: 'flex-start', flexWrap: 'wrap', rowGap: 1 }}>
        <TextField
          label="Spoken, a word a beat"
          size="small"
          sx={{ flex: 1, minWidth: 200 }}
          placeholder="rain driz-zle"
          value={say}
          error={problemOf('say') !== undefined}
          helperText={problemOf('say')}
          onChange={(event) => {
            setSay(event.target.value);
            onChange({ ...step, say: wordsOf(event.target.value) });
          }}
        />
        <Button
          aria-pressed={apart}
          disabled={common === undefined}
          onClick={() => setApart(!apart)}
          sx={{ minHeight: 40 }}
        >
          Each instrument apart
        </Button>
      </Stack>
    </Card>
  );
}
