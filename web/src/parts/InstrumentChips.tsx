import type { Instrument } from '../api/client';
import { INSTRUMENTS } from '../words/looks';
import { capital } from '../words/text';
import { Toggle } from './Toggle';

interface Props {
  /** The one that is shown; all where it is absent. */
  only: Instrument | undefined;
  onOnly: (only: Instrument | undefined) => void;
}

/** One of the four instruments, or all of them. */
export function InstrumentChips({ only, onOnly }: Props) {
  return INSTRUMENTS.map((one) => (
    <Toggle key={one} on={only === one} onClick={() => onOnly(only === one ? undefined : one)}>
      {capital(one)}
    </Toggle>
  ));
}
