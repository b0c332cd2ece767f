import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';
import { Toggle } from '../../parts/Toggle';
import type { People } from './PeoplePart';

interface Props {
  all: People;
  chosen: readonly string[];
  /** One and no more. */
  one?: boolean;
  problem: string | undefined;
  onChoose: (classes: string[]) => void;
}

/** Which classes somebody is given. */
export function ClassChoice({ all, chosen, one = false, problem, onChoose }: Props) {
  const toggle = (id: string) => {
    if (one) onChoose([id]);
    else onChoose(chosen.includes(id) ? chosen.filter((other) => other !== id) : [...chosen, id]);
  };
  return (
    <div>
      <Typography id="given" sx={{ mb: 0.5 }}>
        {one ? 'Which class' : 'Which classes'}
      </Typography>
      <Stack
        direction="row"
        spacing={0.75}
        role="group"
        aria-labelledby="given"
        sx={{ flexWrap: 'wrap' }}
        useFlexGap
      >
        {all.classes.map(({ id, name }) => (
          <Toggle key={id} on={chosen.includes(id)} onClick={() => toggle(id)}>
            {name}
          </Toggle>
        ))}
      </Stack>
      {problem && (
        <Typography role="alert" sx={{ color: 'error.main', mt: 0.5 }}>
          {problem}
        </Typography>
      )}
    </div>
  );
}
