import { useLocalStorage } from 'usehooks-ts';

/** What this browser chose last among a few values, on every page alike; the first one until somebody chose. */
export function useLocalSetting<const T extends string>(name: string, values: readonly [T, ...T[]]) {
  const [value, setValue] = useLocalStorage<T>(`bright-row.${name}`, values[0], {
    serializer: String,
    // Whatever else stands there is as good as nothing.
    deserializer: (stored) => values.find((one) => one === stored) ?? values[0],
  });
  return [value, setValue] as const;
}
