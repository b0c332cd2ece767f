//! What goes home: what is done there, and what a grown-up who never held a bow sees when it is right.

use std::collections::{BTreeMap, BTreeSet};

use crate::craft::id::{CheckpointId, StageId};
use crate::craft::instrument::Instrument;
use crate::worded::worded;

/// The longest exercise and the longest sign, in characters.
pub const MAX_HOME_TEXT_LENGTH: usize = 90;
/// The longest of the lines that every card has, in characters.
pub const MAX_PHRASE_LENGTH: usize = 140;

worded! {
    /// What one does at home, in the order in which a day has it: fingers rest between blocks in which they press.
    BlockKind {
        /// The hand on the bow, without playing.
        BowShape = "bow-shape",
        /// Each finger tapped so many times.
        FingerStrength = "finger-strength",
        /// A rhythm or tune on open strings.
        OpenStrings = "open-strings",
        /// The left-hand notes of the week.
        LeftHandNotes = "left-hand-notes",
        /// The tune sung and clapped: it needs no instrument, and fingers rest meanwhile.
        Sing = "sing",
        /// The tune with fingers.
        Tune = "tune",
    }
}

impl BlockKind {
    /// Whether fingers press the strings down.
    #[must_use]
    pub const fn presses(self) -> bool {
        matches!(self, Self::FingerStrength | Self::LeftHandNotes | Self::Tune)
    }
}

worded! {
    /// A line that every card has.
    HomePhrase {
        /// Above all.
        Heading = "heading",
        /// To the child, above what it works on.
        Show = "show",
        /// To the grown-up, before what is seen.
        See = "see",
        /// Above the days.
        Week = "week",
        /// One sitting a day.
        OneSitting = "one-sitting",
        /// Several short moments a day.
        Moments = "moments",
        /// What to expect.
        FirstSounds = "first-sounds",
        /// What is sore and what hurts.
        Sore = "sore",
        /// Before the day on which the size is checked again.
        SizeAgain = "size-again",
        /// That the card comes back, and whom its code is for.
        Back = "back",
        /// On the page for a talk with the family: what was learned.
        Learned = "learned",
        /// There: that the beginning is still being worked on.
        Beginning = "beginning",
        /// There: what comes next.
        Next = "next",
        /// How violin and viola are stored.
        StoreUpper = "store-upper",
        /// How cello and bass are stored.
        StoreLower = "store-lower",
    }
}

worded! {
    /// A sheet for the family, besides the card.
    HomeSheet {
        /// What is borrowed, to sign.
        Loan = "loan",
        /// How an instrument is looked after.
        Care = "care",
        /// Another size fits.
        SizeChange = "size-change",
        /// The instrument is at the luthier.
        Luthier = "luthier",
    }
}

/// The words of a sheet. They have places for `{child}`, `{instrument}` and `{tag}`.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct SheetText {
    /// Above all.
    pub title: String,
    /// One sentence or two each.
    pub lines: Vec<String>,
    /// What is written by hand, each before a line to write on.
    pub fields: Vec<String>,
}

impl SheetText {
    /// What can stand between braces.
    pub const PLACES: [&'static str; 3] = ["{child}", "{instrument}", "{tag}"];

    /// The sheet with its places filled.
    #[must_use]
    pub fn filled(&self, child: &str, instrument: Instrument, tag: &str) -> Self {
        // A name that looks like a place is not filled again.
        let fill = |text: &String| {
            let mut parts = text.split('{');
            let mut filled = parts.next().unwrap_or_default().to_owned();
            for part in parts {
                let (place, rest) = part.split_once('}').unwrap_or(("", part));
                filled += match place {
                    "child" => child,
                    "instrument" => instrument.name(),
                    "tag" => tag,
                    _ => "",
                };
                filled += rest;
            }
            filled
        };
        Self { title: fill(&self.title), lines: self.lines.iter().map(fill).collect(), fields: self.fields.clone() }
    }
}

/// What is done in a block from a stage on.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Exercise {
    /// In which block.
    pub block: BlockKind,
    /// The stage that has to be passed before; none: from the first day.
    pub after: Option<StageId>,
    /// The drill that it is made of, which the class has to have; none: it needs no drill.
    pub drill: Option<String>,
    /// What the child does, by instrument.
    pub text: BTreeMap<Instrument, String>,
}

/// Everything that goes home, in words.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct HomeContent {
    /// The earliest of each block first.
    pub exercises: Vec<Exercise>,
    /// What a grown-up sees when it is right, by checkpoint and instrument.
    pub signs: BTreeMap<CheckpointId, BTreeMap<Instrument, String>>,
    /// What is not looked at at home.
    pub not_at_home: BTreeSet<CheckpointId>,
    /// Sheets by instrument.
    pub sheets: BTreeMap<HomeSheet, BTreeMap<Instrument, SheetText>>,
    /// The lines of every card.
    pub phrases: BTreeMap<HomePhrase, String>,
}

impl HomeContent {
    /// A line of every card; the content that ships has all of them.
    #[must_use]
    pub fn phrase(&self, phrase: HomePhrase) -> &str {
        self.phrases.get(&phrase).map_or("", String::as_str)
    }
}

impl HomePhrase {
    /// Whether it stands on the card, and not on the page for a talk with the family.
    #[must_use]
    pub const fn is_on_card(self) -> bool {
        !matches!(self, Self::Learned | Self::Beginning | Self::Next)
    }

    /// How an instrument is stored.
    #[must_use]
    pub const fn storing(instrument: Instrument) -> Self {
        match instrument {
            Instrument::Violin | Instrument::Viola => Self::StoreUpper,
            Instrument::Cello | Instrument::Bass => Self::StoreLower,
        }
    }
}
