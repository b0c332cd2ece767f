/** Languages that families often speak, for choosing one; any other can be typed. */
export const COMMON_LANGUAGES = [
  'am',
  'ar',
  'bn',
  'zh-Hans',
  'zh-Hant',
  'hr',
  'cs',
  'nl',
  'fr',
  'de',
  'el',
  'gu',
  'ht',
  'he',
  'hi',
  'hu',
  'it',
  'ja',
  'ko',
  'lt',
  'ne',
  'ps',
  'fa',
  'pl',
  'pt-BR',
  'pt',
  'pa',
  'ro',
  'ru',
  'so',
  'es',
  'sw',
  'tl',
  'ta',
  'te',
  'th',
  'tr',
  'uk',
  'ur',
  'vi',
];

/** A language by its name, `Spanish`; as it is written where it has none. */
export function languageName(language: string): string {
  try {
    return new Intl.DisplayNames('en', { type: 'language' }).of(language) ?? language;
  } catch {
    return language;
  }
}

/** Which way its letters run, as far as that is known. */
export function runs(language: string): 'ltr' | 'rtl' {
  return ['ar', 'fa', 'he', 'ps', 'ur'].includes(language.split('-')[0] ?? '') ? 'rtl' : 'ltr';
}

/** Whether something typed can be a language, as BCP 47 writes it. */
export function isLanguage(typed: string): boolean {
  return /^[a-z]{2,3}(-[a-z]{4})?(-([a-z]{2}|[0-9]{3}))?$/i.test(typed);
}
