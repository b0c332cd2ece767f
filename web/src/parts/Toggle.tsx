import ToggleButton, { type ToggleButtonProps } from '@mui/material/ToggleButton';

interface Props extends Omit<ToggleButtonProps, 'value' | 'selected'> {
  on: boolean;
}

/** Something that is on or off. One of several that are never all off is a {@link OneOf}. */
export function Toggle({ on, ...props }: Props) {
  return <ToggleButton value="on" selected={on} {...props} />;
}
