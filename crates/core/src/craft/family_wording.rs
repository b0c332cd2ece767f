//! What every card says, in the languages of a class's families too: worded by the class, beside the shared lines.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use smol_str::SmolStr;

use crate::craft::home::{HomeContent, HomePhrase, MAX_PHRASE_LENGTH};

/// So many languages a class words its cards in at most.
pub const MAX_LANGUAGES: usize = 12;

/// A language as BCP 47 writes it: a language of two or three letters, a script, a region: `es`, `pt-BR`, `zh-Hans`.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[cfg_attr(feature = "schema", schema(value_type = String, max_length = 11))]
#[serde(try_from = "String", into = "String")]
pub struct Language(SmolStr);

/// A text that names no language.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("a language is written as `es`, `pt-BR` or `zh-Hans`")]
pub struct NoLanguage;

impl Language {
    /// Reads a language; capitals do not matter.
    ///
    /// # Errors
    /// [`NoLanguage`].
    pub fn parse(text: &str) -> Result<Self, NoLanguage> {
        let mut parts = text.split('-');
        let letters = |part: &str, long: &[usize]| {
            long.contains(&part.len()) && part.chars().all(|letter| letter.is_ascii_alphabetic())
        };
        let first = parts.next().filter(|part| letters(part, &[2, 3])).ok_or(NoLanguage)?;
        let mut read = first.to_ascii_lowercase();
        let mut rest = parts.next();
        if let Some(script) = rest.filter(|part| letters(part, &[4])) {
            let (capital, small) = script.split_at(1);
            read += &format!("-{}{}", capital.to_ascii_uppercase(), small.to_ascii_lowercase());
            rest = parts.next();
        }
        let number = |part: &str| part.len() == 3 && part.chars().all(|digit| digit.is_ascii_digit());
        if let Some(region) = rest.filter(|part| letters(part, &[2]) || number(part)) {
            read += &format!("-{}", region.to_ascii_uppercase());
            rest = parts.next();
        }
        if rest.is_some() { Err(NoLanguage) } else { Ok(Self(read.into())) }
    }

    /// As it is written.
    #[must_use]
    pub fn as_str(&self) -> &str {
        &self.0
    }
}

impl TryFrom<String> for Language {
    type Error = NoLanguage;

    fn try_from(text: String) -> Result<Self, NoLanguage> {
        Self::parse(&text)
    }
}

impl From<Language> for String {
    fn from(language: Language) -> Self {
        language.0.into()
    }
}

/// A class's own wording by language; a line that is absent stands on the card as it ships only.
pub type FamilyWording = BTreeMap<Language, BTreeMap<HomePhrase, String>>;

/// Something in it that cannot be.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct WordingFault {
    /// Which language.
    pub language: Language,
    /// Which line; `None` for the language as a whole.
    pub phrase: Option<HomePhrase>,
    /// What to do.
    pub message: String,
}

/// Everything that cannot be.
#[must_use]
pub fn faults(wording: &FamilyWording) -> Vec<WordingFault> {
    let mut faults = Vec::new();
    if let Some(language) = wording.keys().nth(MAX_LANGUAGES) {
        let message = format!("a class words its cards in {MAX_LANGUAGES} languages at most");
        faults.push(WordingFault { language: language.clone(), phrase: None, message });
    }
    for (language, lines) in wording {
        for (phrase, text) in lines {
            let long = text.chars().count();
            let message = if text.trim().is_empty() {
                "write something, or leave this line out".to_owned()
            } else if long > MAX_PHRASE_LENGTH {
                format!("{long} characters; {MAX_PHRASE_LENGTH} is the most")
            } else if text.chars().any(char::is_control) {
                "plain text in one line".to_owned()
            } else {
                continue;
            };
            faults.push(WordingFault { language: language.clone(), phrase: Some(*phrase), message });
        }
    }
    faults
}

/// The lines of one family's card: the shared ones, and the class's own in the family's language.
#[derive(Clone, Copy, Debug)]
pub struct CardLines<'a> {
    /// What ships.
    pub home: &'a HomeContent,
    /// The class's own; `None` for a family without a language, or with one that the class has no words for.
    pub own: Option<&'a BTreeMap<HomePhrase, String>>,
}

impl CardLines<'_> {
    fn own(&self, phrase: HomePhrase) -> Option<&str> {
        self.own?.get(&phrase).map(String::as_str)
    }

    /// A line with the family's own behind it. Of two that lead over to what follows, the last one does.
    #[must_use]
    pub fn line(&self, phrase: HomePhrase) -> String {
        let shared = self.home.phrase(phrase);
        let Some(own) = self.own(phrase) else { return shared.to_owned() };
        let leads_over = own.ends_with([':', '：']);
        let shared = if leads_over { shared.strip_suffix(':').unwrap_or(shared) } else { shared };
        format!("{shared} / {own}")
    }

    /// Lines as a paragraph, and the family's own of them as a second one where there are any; `before` stands before the first.
    #[must_use]
    pub fn paragraphs(&self, before: &str, phrases: &[HomePhrase]) -> Vec<String> {
        let shared = phrases.iter().map(|phrase| self.home.phrase(*phrase));
        let shared: Vec<&str> = [before].into_iter().filter(|before| !before.is_empty()).chain(shared).collect();
        let own: Vec<&str> = phrases.iter().filter_map(|phrase| self.own(*phrase)).collect();
        [shared, own].into_iter().filter(|lines| !lines.is_empty()).map(|lines| lines.join(" ")).collect()
    }
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;

    #[test]
    fn a_language_is_read_however_it_is_written() {
        for (text, read) in [("ES", "es"), ("pt-br", "pt-BR"), ("zh-hans", "zh-Hans"), ("ZH-HANT-tw", "zh-Hant-TW")] {
            assert_eq!(Language::parse(text).expect(text).as_str(), read);
        }
        assert_eq!(Language::parse("es-419").expect("a region").as_str(), "es-419");
        for text in ["", "e", "spanish", "es-", "es--MX", "es-MX-x", "e\u{301}s", "zh-Hans-CN-more", "../es"] {
            assert_eq!(Language::parse(text), Err(NoLanguage), "{text}");
        }
    }

    proptest! {
        #[test]
        fn any_text_is_a_language_or_none_and_what_was_read_reads_as_itself(text in ".{0,14}") {
            if let Ok(language) = Language::parse(&text) {
                prop_assert_eq!(Language::parse(language.as_str()), Ok(language.clone()));
                prop_assert!(language.as_str().len() <= 11);
            }
        }
    }

    #[test]
    fn what_cannot_be_is_said_by_language_and_line() {
        let language = |text: &str| Language::parse(text).expect("a language");
        let line = |text: &str| BTreeMap::from([(HomePhrase::Heading, text.to_owned())]);
        assert_eq!(faults(&BTreeMap::from([(language("es"), line("En casa esta semana"))])), []);
        for text in [" ", "two\nlines", &"x".repeat(MAX_PHRASE_LENGTH + 1)] {
            let found = faults(&BTreeMap::from([(language("es"), line(text))]));
            assert_eq!((found.len(), found[0].phrase), (1, Some(HomePhrase::Heading)), "{text:?}");
        }
        let many: FamilyWording =
            (b'a'..=b'm').map(|letter| (language(&format!("x{}", char::from(letter))), line("x"))).collect();
        assert_eq!(faults(&many).len(), 1);
    }

    #[test]
    fn own_words_stand_behind_the_shared_ones() {
        let shipped = [
            (HomePhrase::See, "You see:"),
            (HomePhrase::Heading, "At home this week"),
            (HomePhrase::OneSitting, "All in one go."),
            (HomePhrase::Sore, "Stop."),
        ];
        let home = HomeContent {
            phrases: shipped.map(|(phrase, text)| (phrase, text.to_owned())).into(),
            ..HomeContent::default()
        };
        let own = [(HomePhrase::See, "Se ve:"), (HomePhrase::Heading, "この週の家"), (HomePhrase::Sore, "Alto.")];
        let own = own.map(|(phrase, text)| (phrase, text.to_owned())).into();
        let lines = CardLines { home: &home, own: Some(&own) };
        assert_eq!(lines.line(HomePhrase::See), "You see / Se ve:");
        assert_eq!(lines.line(HomePhrase::Heading), "At home this week / この週の家");
        assert_eq!(lines.paragraphs("10 minutes.", &[HomePhrase::OneSitting]), ["10 minutes. All in one go."]);
        assert_eq!(
            lines.paragraphs("", &[HomePhrase::OneSitting, HomePhrase::Sore]),
            ["All in one go. Stop.", "Alto."]
        );
        assert_eq!(CardLines { own: None, ..lines }.line(HomePhrase::See), "You see:");
    }
}
