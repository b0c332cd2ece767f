import Alert from '@mui/material/Alert';
import Autocomplete from '@mui/material/Autocomplete';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useParams } from 'react-router';
import { api, basedOn, unwrap, type Schemas } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { PageContent, Read } from '../../parts/page';
import { SavedMeanwhile, type Said } from '../../parts/SavedMeanwhile';
import { Toggle } from '../../parts/Toggle';
import { useAction } from '../../parts/useAction';
import { useDirector } from '../../parts/useDirector';
import { useDraft } from '../../parts/useDraft';
import { COMMON_LANGUAGES, isLanguage, languageName, runs } from '../../words/languages';
import { count } from '../../words/text';

type Wording = Schemas['FamilyWordingView'];
type Languages = Wording['languages'];

/** The lines of every card in the languages of families, in the class's own words. */
export function WordingPart() {
  const { classId = '' } = useParams();
  const wording = $api.useQuery('get', '/api/classes/{class}/home/wording', ofClass(classId));
  return (
    <PageContent name="Languages">
      <Read query={wording} what="What cards say is being looked up">
        {(read) => <Fields classId={classId} wording={read} />}
      </Read>
    </PageContent>
  );
}

/** Without what was left empty. */
function kept(languages: Languages): Languages {
  const filled = Object.entries(languages).map(
    ([language, lines]) =>
      [language, Object.fromEntries(Object.entries(lines).filter(([, text]) => text.trim() !== ''))] as const,
  );
  return Object.fromEntries(filled.filter(([, lines]) => Object.keys(lines).length > 0));
}

/** Which languages there are, for comparing two. */
const says = (languages: Languages): Said[] =>
  Object.entries(languages).map(([language, lines]) => [
    languageName(language),
    Object.values(lines).join(' · '),
  ]);

function Fields({ classId, wording }: { classId: string; wording: Wording }) {
  const draft = useDraft(wording.languages, wording.version);
  const languages = draft.value;
  const all = Object.keys(languages).sort((a, b) => languageName(a).localeCompare(languageName(b)));
  const [shown, setShown] = useState<string>();
  const open = shown !== undefined && shown in languages ? shown : all[0];
  const director = useDirector(classId);
  const action = useAction(classId);
  const save = async (based: string | undefined) => {
    const saved = await action.run(() =>
      unwrap(
        api.PUT('/api/classes/{class}/home/wording', {
          params: { path: { class: classId } },
          headers: basedOn(based),
          body: { languages: kept(languages) },
        }),
      ),
    );
    if (saved) draft.saved(languages);
  };
  const add = (language: string) => {
    if (!(language in languages)) draft.change({ ...languages, [language]: {} });
    setShown(language);
  };
  const changed = JSON.stringify(kept(languages)) !== JSON.stringify(wording.languages);
  return (
    <Box sx={{ display: 'grid', gap: 2, maxWidth: 760 }}>
      <SavedMeanwhile
        action={action}
        mine={languages}
        says={says}
        onMine={(based) => void save(based)}
        onTheirs={draft.drop}
      />
      <Typography>
        A card says these lines in English. Put them into a family’s language here: they stand beside the
        English ones on the cards of families with that language. Which language a family has is chosen in the
        child’s week.
      </Typography>
      <Stack direction="row" spacing={1} useFlexGap sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
        {all.map((language) => (
          <Toggle key={language} on={language === open} onClick={() => setShown(language)}>
            {languageName(language)}
          </Toggle>
        ))}
        {director && <AddLanguage there={all} onAdd={add} />}
        {director && open !== undefined && (
          <Button
            variant="contained"
            loading={action.busy}
            disabled={!changed}
            onClick={() => void save(draft.basedOn)}
          >
            Save
          </Button>
        )}
      </Stack>
      {action.error && <Alert severity="error">{action.error}</Alert>}
      {open !== undefined && (
        <Lines
          key={open}
          language={open}
          lines={wording.lines}
          own={languages[open] ?? {}}
          disabled={!director}
          problemOf={(phrase) => action.problemOf(`languages.${open}.${phrase}`)}
          onChange={(own) => draft.change({ ...languages, [open]: own })}
        />
      )}
    </Box>
  );
}

interface AddProps {
  there: string[];
  onAdd: (language: string) => void;
}

/** One more language: from a list, or as it is written. */
function AddLanguage({ there, onAdd }: AddProps) {
  const [typed, setTyped] = useState('');
  const take = (language: string | null) => {
    if (language === null || !isLanguage(language)) return;
    onAdd(language);
    setTyped('');
  };
  return (
    <Autocomplete
      freeSolo
      size="small"
      options={COMMON_LANGUAGES.filter((language) => !there.includes(language))}
      getOptionLabel={languageName}
      // What is typed is not yet a language: `spa` leads to Spanish.
      value={null}
      inputValue={typed}
      onInputChange={(_, next) => setTyped(next)}
      onChange={(_, chosen) => take(chosen)}
      blurOnSelect
      sx={{ width: '16rem' }}
      renderInput={(params) => (
        <TextField {...params} label="Add a language" placeholder="Spanish, or es-MX" />
      )}
    />
  );
}

interface LinesProps {
  language: string;
  lines: Wording['lines'];
  own: Record<string, string>;
  disabled: boolean;
  problemOf: (phrase: string) => string | undefined;
  onChange: (own: Record<string, string>) => void;
}

/** The longest line, in characters. */
const LONGEST = 140;

/** Every line of a card with the class's own beside it. */
function Lines({ language, lines, own, disabled, problemOf, onChange }: LinesProps) {
  const worded = lines.filter(({ phrase }) => (own[phrase] ?? '').trim() !== '').length;
  return (
    <Box
      component="section"
      aria-label={languageName(language)}
      sx={{ display: 'grid', gap: 1.5, gridTemplateColumns: 'minmax(0, 1fr)' }}
    >
      <Typography role="status">
        {worded} of {count(lines.length, 'line')} in {languageName(language)}. An empty line stays English
        only.
      </Typography>
      {lines.map(({ phrase, text }) => (
        <Box key={phrase}>
          <Typography component="label" htmlFor={`line-${phrase}`} sx={{ display: 'block', pb: 0.25 }}>
            {text}
          </Typography>
          <TextField
            id={`line-${phrase}`}
            value={own[phrase] ?? ''}
            multiline
            fullWidth
            size="small"
            disabled={disabled}
            error={problemOf(phrase) !== undefined}
            helperText={problemOf(phrase)}
            slotProps={{ htmlInput: { lang: language, dir: runs(language), maxLength: LONGEST } }}
            onChange={(event) => onChange({ ...own, [phrase]: event.target.value.replace(/\n/g, ' ') })}
          />
        </Box>
      ))}
    </Box>
  );
}
