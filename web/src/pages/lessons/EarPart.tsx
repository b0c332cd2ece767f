import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';
import { useEffect, useState } from 'react';
import type { Instrument } from '../../api/client';
import { loadStrings, type Answer, type Ask, type Question } from '../../core/strings';
import { OneOf } from '../../parts/OneOf';
import { Card, PageContent } from '../../parts/page';
import { hush, playSamples, soundRate } from '../../parts/tones';
import { INSTRUMENTS } from '../../words/looks';
import { capital, count, small } from '../../words/text';
import { ANSWER_WORDS, ANSWERS_OF, ASKS, EXPLAINED } from '../../words/trainer';
import { NO_SCORE, scored, useScore } from './useScore';

/** What do you hear? For whoever observes: sounds of simulated strings, and what each of them was. */
export function EarPart() {
  const [ask, setAsk] = useState<Ask>('pluck');
  const [instrument, setInstrument] = useState<Instrument>('violin');
  useEffect(() => hush, []);
  return (
    <PageContent
      name="Train the ear"
      bar={
        <>
          <OneOf name="What is asked" value={ask} options={ASKS} onChoose={setAsk} />
          <Box sx={{ flex: 1 }} />
          <OneOf
            name="Which instrument"
            value={instrument}
            options={INSTRUMENTS.map((one) => [one, capital(one)] as const)}
            onChoose={setInstrument}
          />
        </>
      }
    >
      <Trainer key={`${ask} ${instrument}`} ask={ask} instrument={instrument} />
    </PageContent>
  );
}

function Trainer({ ask, instrument }: { ask: Ask; instrument: Instrument }) {
  const [scores, setScores] = useScore();
  const score = scores[ask];
  const [question, setQuestion] = useState<Question>();
  const [given, setGiven] = useState<Answer>();
  const [failed, setFailed] = useState(false);
  const next = async () => {
    hush();
    try {
      const strings = await loadStrings();
      const seed = Math.floor(Math.random() * 0xffff_ffff);
      const asked = strings.question(soundRate(), ask, instrument, score.cents, seed);
      setFailed(false);
      setGiven(undefined);
      setQuestion(asked);
      if (asked) playSamples(asked.samples);
    } catch {
      setFailed(true);
    }
  };
  const answer = async (one: Answer) => {
    if (!question || given) return;
    setGiven(one);
    const strings = await loadStrings();
    const after = scored(score, one === question.answer, (cents, inARow) => strings.nextCents(cents, inARow));
    setScores({ ...scores, [ask]: after });
  };
  return (
    <Card aria-label="What do you hear?" sx={{ display: 'grid', gap: 2, maxWidth: 720 }}>
      <Typography variant="h2">
        {ask === 'pitch' ? 'Is the second note lower or higher?' : 'What do you hear?'}
      </Typography>
      <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap', rowGap: 1 }}>
        <Button
          variant={question && !given ? 'outlined' : 'contained'}
          size="large"
          sx={{ minHeight: 56 }}
          onClick={() => void next()}
        >
          {question ? 'Next sound' : 'Play a sound'}
        </Button>
        {question && (
          <Button
            variant="outlined"
            size="large"
            sx={{ minHeight: 56 }}
            onClick={() => playSamples(question.samples)}
          >
            Once more
          </Button>
        )}
      </Stack>
      {question && (
        <Stack direction="row" role="group" aria-label="Answers" sx={{ flexWrap: 'wrap', gap: 1 }}>
          {ANSWERS_OF[ask].map((one) => (
            <Button
              key={one}
              variant={given === one ? 'contained' : 'outlined'}
              size="large"
              sx={{ minHeight: 56 }}
              disabled={given !== undefined && given !== one && one !== question.answer}
              onClick={() => void answer(one)}
            >
              {given && one === question.answer ? '✓ ' : ''}
              {ANSWER_WORDS[one]}
            </Button>
          ))}
        </Stack>
      )}
      {failed && (
        <Alert severity="info">No sound can be made here. Reload the page, or take a newer browser.</Alert>
      )}
      <div role="status">
        {question && given && (
          <Typography>
            <strong>
              {given === question.answer
                ? `Yes: ${small(ANSWER_WORDS[question.answer])}.`
                : `It was: ${small(ANSWER_WORDS[question.answer])}. Hear it once more.`}
            </strong>{' '}
            {EXPLAINED[question.answer]}
          </Typography>
        )}
      </div>
      <Typography sx={{ color: 'text.secondary' }}>
        {score.asked === 0
          ? 'Nothing asked yet.'
          : `${score.right} of ${count(score.asked, 'sound')} heard, ${score.inARow} in a row.`}
        {ask === 'pitch' && ` The two notes differ by ${Math.round(score.cents)} cents.`} Only this device
        knows.{' '}
        {score.asked > 0 && (
          <Button size="small" onClick={() => setScores({ ...scores, [ask]: NO_SCORE })}>
            Begin anew
          </Button>
        )}
      </Typography>
    </Card>
  );
}
