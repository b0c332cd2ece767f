import { useEffect } from 'react';
import { useLocalSetting } from './useLocalSetting';

/** Single keys can be switched off, for those whom they would get in the way of (speech input, tremor). */
export function useSingleKeys(): readonly [on: boolean, set: (on: boolean) => void] {
  const [keys, setKeys] = useLocalSetting('single-keys', ['on', 'off']);
  return [keys === 'on', (on) => setKeys(on ? 'on' : 'off')];
}

/** Whether keys are wanted where the focus is; a radio or a tick wants none but its own. */
function isTyping(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  const field = target.closest('input, textarea, select, [contenteditable]');
  return field !== null && !(field instanceof HTMLInputElement && ['radio', 'checkbox'].includes(field.type));
}

/**
 * Calls the action of a key pressed anywhere on the page, but never while somebody types, holds a modifier, or has a
 * dialog open.
 */
export function useKeys(actions: Record<string, () => void>): void {
  const [on] = useSingleKeys();
  useEffect(() => {
    if (!on) return;
    const press = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented || isTyping(event.target))
        return;
      if (document.querySelector('[role="dialog"]') !== null) return;
      const action = actions[event.key.length === 1 ? event.key.toLowerCase() : event.key];
      if (!action) return;
      event.preventDefault();
      action();
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [actions, on]);
}
