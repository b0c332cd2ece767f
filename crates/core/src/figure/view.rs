//! The twelve views: what is seen from where.

use super::canvas::Canvas;
use super::parameters::{Parameter, Settings};
use super::part::Part;
use super::shape::Figure;
use super::views::{
    body::Body, bow_arm::BowArm, bow_care::BowCare, bow_hand::BowHand, bow_path::BowPath, left_arm::LeftArm,
    left_hand::LeftHand, neck_section::NeckSection, peg::Peg, pluck::Pluck, support::Support, thumb_back::ThumbBack,
};
use crate::instrument::Instrument;
use crate::worded::worded;

worded! {
    /// What is seen from where.
    View {
        /// The child with the instrument, from the front or from the side.
        Body = "body",
        /// Neck and shoulder from the side, with what fills the room under the jaw; the pin of a cello or bass.
        Support = "support",
        /// Along the neck from the scroll, cut at the first finger.
        NeckSection = "neck-section",
        /// The left arm from elbow to knuckles.
        LeftArm = "left-arm",
        /// The left hand from above the fingerboard.
        LeftHand = "left-hand",
        /// The thumb from behind the neck.
        ThumbBack = "thumb-back",
        /// The hand on the bow, as the director sees it or from the frog's end.
        BowHand = "bow-hand",
        /// The bow between bridge and fingerboard, from above.
        BowPath = "bow-path",
        /// The right arm from the front.
        BowArm = "bow-arm",
        /// The plucking hand from above.
        Pluck = "pluck",
        /// A whole bow from the side.
        BowCare = "bow-care",
        /// The scroll with its pegs, from the front.
        Peg = "peg",
    }
}

macro_rules! drawn {
    ($($view:ident => $drawing:ident),+ $(,)?) => {
        impl View {
            /// Its numbers.
            #[must_use]
            pub const fn parameters(self) -> &'static [Parameter] {
                match self { $(Self::$view => $drawing::PARAMETERS),+ }
            }

            fn canvas(self, instrument: Instrument, set: &Settings) -> Canvas {
                match self { $(Self::$view => $drawing::of(instrument, set).canvas(instrument)),+ }
            }
        }
    };
}

drawn! {
    Body => Body, Support => Support, NeckSection => NeckSection, LeftArm => LeftArm, LeftHand => LeftHand,
    ThumbBack => ThumbBack, BowHand => BowHand, BowPath => BowPath, BowArm => BowArm, Pluck => Pluck,
    BowCare => BowCare, Peg => Peg,
}

impl View {
    /// The parameter of a name.
    #[must_use]
    pub fn parameter(self, name: &str) -> Option<&'static Parameter> {
        self.parameters().iter().find(|parameter| parameter.name == name)
    }

    /// The drawing with these numbers; what is out of its range is drawn as far as it goes, what is not known is left aside.
    #[must_use]
    pub fn draw(self, instrument: Instrument, set: &Settings, amiss: &[Part]) -> Figure {
        self.canvas(instrument, set).finished(amiss)
    }

    /// The parts that can be stressed with these numbers.
    #[must_use]
    pub fn parts(self, instrument: Instrument, set: &Settings) -> Vec<Part> {
        let mut parts: Vec<Part> = self.canvas(instrument, set).parts().collect();
        parts.sort_unstable();
        parts.dedup();
        parts
    }
}
