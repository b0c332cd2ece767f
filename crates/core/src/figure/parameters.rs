//! The numbers of a view: what each is called, how far it goes, and what is usual on an instrument.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use crate::instrument::Instrument;

/// What a number of a view is set to: a number, or one of its words.
#[derive(Clone, Debug, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(untagged)]
pub enum Setting {
    /// Degrees, millimetres or a share, as the parameter says.
    Number(f64),
    /// One of its words.
    Word(String),
}

impl PartialEq for Setting {
    /// The same number, bit by bit: what is written down is compared, never a result.
    fn eq(&self, other: &Self) -> bool {
        match (self, other) {
            (Self::Number(a), Self::Number(b)) => a.to_bits() == b.to_bits(),
            (Self::Word(a), Self::Word(b)) => a == b,
            _ => false,
        }
    }
}

impl Eq for Setting {}

/// What is set, by the parameter's name.
pub type Settings = BTreeMap<String, Setting>;

/// How far a parameter goes.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", tag = "kind")]
pub enum Range {
    /// A number.
    Number {
        /// The least.
        least: f64,
        /// The most.
        most: f64,
        /// `degrees`, `mm`, `percent`, `count` or `semitones`.
        unit: &'static str,
    },
    /// One of these words.
    Word {
        /// Which.
        words: &'static [&'static str],
    },
}

/// One number of a view.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct Parameter {
    /// `thumb_bend`.
    pub name: &'static str,
    /// How far it goes.
    pub range: Range,
    /// What is usual on violin, viola, cello and bass.
    #[serde(skip)]
    pub usual: [Usual; 4],
}

/// What a parameter is where nothing sets it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Usual {
    /// A number.
    Number(f64),
    /// A word.
    Word(&'static str),
}

impl Parameter {
    /// What it is where nothing sets it.
    #[must_use]
    pub fn usual(&self, instrument: Instrument) -> Setting {
        match self.usual[instrument.place()] {
            Usual::Number(number) => Setting::Number(number),
            Usual::Word(word) => Setting::Word(word.to_owned()),
        }
    }

    /// Why it cannot be set so, if it cannot.
    #[must_use]
    pub fn fault(&self, to: &Setting) -> Option<String> {
        let name = self.name;
        match (&self.range, to) {
            (Range::Number { least, most, unit }, Setting::Number(number)) => (!(least..=most).contains(&number))
                .then(|| format!("`{name}` goes from {least} to {most} {unit}, not {number}")),
            (Range::Word { words }, Setting::Word(word)) => (!words.contains(&word.as_str())).then(|| {
                format!("`{name}` is one of {}, not `{}`", words.join(", "), word.chars().take(40).collect::<String>())
            }),
            (Range::Number { unit, .. }, Setting::Word(_)) => Some(format!("`{name}` is a number of {unit}")),
            (Range::Word { words }, Setting::Number(_)) => Some(format!("`{name}` is one of {}", words.join(", "))),
        }
    }

    /// The number that is set, within the range; the usual one where none is.
    pub(super) fn number(&self, instrument: Instrument, set: &Settings) -> f64 {
        let usual = match self.usual[instrument.place()] {
            Usual::Number(number) => number,
            Usual::Word(_) => 0.0,
        };
        let (Range::Number { least, most, .. }, Some(Setting::Number(number))) = (&self.range, set.get(self.name))
        else {
            return usual;
        };
        if number.is_nan() { usual } else { number.clamp(*least, *most) }
    }

    /// The word that is set; the usual one where none is, or one that is not known.
    pub(super) fn word(&self, instrument: Instrument, set: &Settings) -> &'static str {
        let usual = match self.usual[instrument.place()] {
            Usual::Word(word) => word,
            Usual::Number(_) => "",
        };
        let (Range::Word { words }, Some(Setting::Word(word))) = (&self.range, set.get(self.name)) else {
            return usual;
        };
        words.iter().find(|known| *known == word).copied().unwrap_or(usual)
    }
}

/// A view's numbers as a struct with a field for each, and the table of what they are. The four values are those of violin,
/// viola, cello and bass.
macro_rules! parameters {
    ($(#[$doc:meta])* $name:ident { $($kind:tt $field:ident $range:tt = $usual:tt, $what:literal;)+ }) => {
        $(#[$doc])*
        pub(crate) struct $name { $(#[doc = $what] $field: $crate::figure::parameters::field!($kind),)+ }

        impl $name {
            pub(crate) const PARAMETERS: &'static [$crate::figure::parameters::Parameter] = &[
                $($crate::figure::parameters::parameter!($kind $field $range $usual)),+
            ];

            pub(crate) fn of(
                instrument: $crate::instrument::Instrument,
                set: &$crate::figure::parameters::Settings,
            ) -> Self {
                let mut all = Self::PARAMETERS.iter();
                // The table has an entry for each field, in their order.
                $(let $field = all.next().map($crate::figure::parameters::read!($kind instrument set)).unwrap_or_default();)+
                Self { $($field),+ }
            }
        }
    };
}

macro_rules! field {
    (number) => { f64 };
    (word) => { &'static str };
}

macro_rules! read {
    (number $instrument:ident $set:ident) => {
        |one| one.number($instrument, $set)
    };
    (word $instrument:ident $set:ident) => {
        |one| one.word($instrument, $set)
    };
}

macro_rules! parameter {
    (number $field:ident ($least:literal, $most:literal, $unit:literal) [$a:literal, $b:literal, $c:literal, $d:literal]) => {
        $crate::figure::parameters::Parameter {
            name: stringify!($field),
            range: $crate::figure::parameters::Range::Number { least: $least, most: $most, unit: $unit },
            usual: [
                $crate::figure::parameters::Usual::Number($a),
                $crate::figure::parameters::Usual::Number($b),
                $crate::figure::parameters::Usual::Number($c),
                $crate::figure::parameters::Usual::Number($d),
            ],
        }
    };
    (word $field:ident ($($word:literal),+) [$a:literal, $b:literal, $c:literal, $d:literal]) => {
        $crate::figure::parameters::Parameter {
            name: stringify!($field),
            range: $crate::figure::parameters::Range::Word { words: &[$($word),+] },
            usual: [
                $crate::figure::parameters::Usual::Word($a),
                $crate::figure::parameters::Usual::Word($b),
                $crate::figure::parameters::Usual::Word($c),
                $crate::figure::parameters::Usual::Word($d),
            ],
        }
    };
}

pub(super) use {field, parameter, parameters, read};
