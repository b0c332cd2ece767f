//! The one way in which an enum gets its words: those that are stored, sent and written in content.

/// An enum whose variants each have one word: `word`, `parse` and `ALL` follow, and it is serialized as its word. The word is
/// taken as a token tree: a captured literal would reach the schema derive wrapped, where it is not read.
macro_rules! worded {
    ($(#[$doc:meta])* $name:ident { $($(#[$variant_doc:meta])* $variant:ident = $word:tt),+ $(,)? }) => {
        $(#[$doc])*
        #[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, serde::Serialize, serde::Deserialize)]
        #[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
        pub enum $name { $($(#[$variant_doc])* #[serde(rename = $word)] $variant),+ }

        impl $name {
            /// Every variant, in order.
            pub const ALL: &'static [Self] = &[$(Self::$variant),+];

            /// The word that is stored and sent.
            #[must_use]
            pub const fn word(self) -> &'static str {
                match self { $(Self::$variant => $word),+ }
            }

            /// The variant of a word.
            #[must_use]
            pub fn parse(word: &str) -> Option<Self> {
                match word { $($word => Some(Self::$variant),)+ _ => None }
            }
        }
    };
}

pub(crate) use worded;

#[cfg(test)]
mod tests {
    use crate::role::Role;

    #[test]
    fn a_word_leads_back_to_its_variant_and_is_what_is_serialized() {
        for role in Role::ALL {
            assert_eq!(Role::parse(role.word()), Some(*role));
            assert_eq!(toml::Value::try_from(role).expect("a word"), toml::Value::from(role.word()));
        }
        assert_eq!(Role::parse("headmaster"), None);
    }
}
