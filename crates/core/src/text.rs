//! Text that people type: bounded, trimmed, and free of characters that cannot be kept.

/// Text of at most `MAX` characters without spaces around it. Made by the kind of text it is: a [name](Text::name), a
/// [line](Text::line) or a [note](Text::note).
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Text<const MAX: usize>(String);

/// Why a text cannot be taken.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum TextFault {
    /// A name is missing.
    #[error("Type a name.")]
    NoName,
    /// Too long, or with characters that cannot be printed.
    #[error("At most {0} plain characters.")]
    NotPlain(usize),
    /// Too long, or with the one character that a database cannot keep.
    #[error("At most {0} characters, none of them empty.")]
    NotKept(usize),
}

impl<const MAX: usize> Text<MAX> {
    /// A name: not empty, one space between its words.
    ///
    /// # Errors
    /// [`TextFault`].
    pub fn name(raw: &str) -> Result<Self, TextFault> {
        let name = raw.split_whitespace().collect::<Vec<_>>().join(" ");
        if name.is_empty() { Err(TextFault::NoName) } else { Self::line(&name) }
    }

    /// One line; may be empty.
    ///
    /// # Errors
    /// [`TextFault::NotPlain`].
    pub fn line(raw: &str) -> Result<Self, TextFault> {
        let text = raw.trim();
        let plain = text.chars().count() <= MAX && !text.chars().any(char::is_control);
        if plain { Ok(Self(text.to_owned())) } else { Err(TextFault::NotPlain(MAX)) }
    }

    /// Several lines; may be empty.
    ///
    /// # Errors
    /// [`TextFault::NotKept`].
    pub fn note(raw: &str) -> Result<Self, TextFault> {
        let text = raw.trim();
        let kept = text.chars().count() <= MAX && !text.contains('\0');
        if kept { Ok(Self(text.to_owned())) } else { Err(TextFault::NotKept(MAX)) }
    }

    /// The text.
    #[must_use]
    pub fn into_string(self) -> String {
        self.0
    }
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;

    #[test]
    fn a_name_has_one_space_between_its_words_and_cannot_be_empty() {
        assert_eq!(Text::<20>::name("  Ada \t King ").map(Text::into_string), Ok("Ada King".to_owned()));
        assert_eq!(Text::<20>::name(" \n "), Err(TextFault::NoName));
        assert_eq!(Text::<3>::name("Adaa"), Err(TextFault::NotPlain(3)));
        assert_eq!(Text::<3>::name("Zoë").map(Text::into_string), Ok("Zoë".to_owned()), "characters, not bytes");
    }

    #[test]
    fn a_line_has_no_control_characters_and_a_note_has_lines() {
        assert_eq!(Text::<9>::line("a\u{7}b"), Err(TextFault::NotPlain(9)));
        assert_eq!(Text::<9>::line("  ").map(Text::into_string), Ok(String::new()));
        assert_eq!(Text::<9>::note("a\nb").map(Text::into_string), Ok("a\nb".to_owned()));
        assert_eq!(Text::<9>::note("a\0b"), Err(TextFault::NotKept(9)));
    }

    proptest! {
        #[test]
        fn whatever_is_taken_is_bounded_and_trimmed(raw in any::<String>()) {
            for text in [Text::<12>::name(&raw), Text::<12>::line(&raw), Text::<12>::note(&raw)].into_iter().flatten() {
                let text = text.into_string();
                prop_assert!(text.chars().count() <= 12 && !text.contains('\0') && text.trim() == text);
            }
        }
    }
}
