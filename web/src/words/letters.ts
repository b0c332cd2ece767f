/** Ways of writing letters as bytes, as one chooses among them. */
const NAMES: Record<string, string> = {
  utf8: 'As they stand in the file',
  twice: 'UTF-8 that was saved twice',
  western: 'Western European',
  central: 'Central European',
  cyrillic: 'Cyrillic',
  greek: 'Greek',
  turkish: 'Turkish',
  hebrew: 'Hebrew',
  arabic: 'Arabic',
  baltic: 'Baltic',
  vietnamese: 'Vietnamese',
  mac: 'Western European, from an older Mac',
  japanese: 'Japanese',
  korean: 'Korean',
  simplifiedChinese: 'Chinese, simplified',
  traditionalChinese: 'Chinese, traditional',
};

export function lettersName(letters: string): string {
  return NAMES[letters] ?? letters;
}
