//! A draft of the content: what is written, not yet whether it fits together.

use super::fault::At;
use super::read_drawings::DrawingsDraft;
use super::read_home::HomeDraft;
use super::read_lessons::LessonsDraft;
use super::tunes::TuneDraft;

/// What the files say.
#[derive(Default)]
pub(super) struct Draft {
    pub(super) instruments: Vec<InstrumentDraft>,
    pub(super) strands: Vec<StrandDraft>,
    pub(super) slips: Vec<SlipDraft>,
    pub(super) leads: Vec<LeadsDraft>,
    pub(super) choices: Vec<ChoiceDraft>,
    pub(super) symptoms: SymptomsDraft,
    pub(super) lessons: LessonsDraft,
    pub(super) drawings: DrawingsDraft,
    pub(super) home: HomeDraft,
    pub(super) tunes: Vec<TuneDraft>,
}

/// What is heard or seen, and its causes.
#[derive(Default)]
pub(super) struct SymptomsDraft {
    pub(super) symptoms: Vec<SymptomDraft>,
    pub(super) causes: Vec<CauseDraft>,
    pub(super) undecided: Vec<UndecidedDraft>,
    pub(super) only_seen: Vec<At<String>>,
}

pub(super) struct SymptomDraft {
    pub(super) id: At<String>,
    pub(super) name: At<String>,
    pub(super) how: At<String>,
    pub(super) instruments: Vec<At<String>>,
    pub(super) asks: Vec<At<String>>,
    pub(super) by_ear: Vec<At<String>>,
    pub(super) normal: bool,
}

/// Symptoms with their weights.
pub(super) type WeightsDraft = Vec<(At<String>, At<u32>)>;

pub(super) struct CauseDraft {
    /// Where it stands, for faults about what is missing.
    pub(super) here: At<()>,
    pub(super) id: Option<At<String>>,
    pub(super) slip: Option<At<String>>,
    pub(super) name: Option<At<String>>,
    pub(super) side: Option<At<String>>,
    pub(super) instruments: Vec<At<String>>,
    pub(super) checkpoint: Option<At<String>>,
    pub(super) help: Option<At<String>>,
    pub(super) facts: Vec<At<String>>,
    pub(super) against: Vec<At<String>>,
    pub(super) only: Vec<At<String>>,
    pub(super) is_its_checkpoint: bool,
    pub(super) restates: Option<At<String>>,
    pub(super) weights: WeightsDraft,
    /// Instrument keys with a space between them, and what weighs otherwise there; 0 takes a symptom away.
    pub(super) weights_on: Vec<(At<String>, WeightsDraft)>,
}

pub(super) struct UndecidedDraft {
    pub(super) slips: Vec<At<String>>,
    pub(super) symptoms: Vec<At<String>>,
}

pub(super) struct LeadsDraft {
    pub(super) from: At<String>,
    pub(super) to: Vec<At<String>>,
}

pub(super) struct InstrumentDraft {
    pub(super) name: At<String>,
    pub(super) strings: Vec<At<String>>,
    pub(super) sizes: Vec<SizeDraft>,
    pub(super) measure: Option<At<String>>,
    pub(super) markers: Vec<At<String>>,
    pub(super) strip_mm: At<u32>,
    pub(super) string_height_mm: Option<At<f64>>,
}

pub(super) struct SizeDraft {
    pub(super) name: Option<At<String>>,
    pub(super) string_length_mm: Option<At<f64>>,
    pub(super) from_mm: Option<At<f64>>,
    pub(super) span_from_mm: Option<At<f64>>,
    pub(super) without_pin_mm: Option<At<f64>>,
}

pub(super) struct ChoiceDraft {
    pub(super) key: At<String>,
    pub(super) name: At<String>,
    pub(super) group: At<String>,
    pub(super) why: At<String>,
    pub(super) changes: At<String>,
    pub(super) per_child: bool,
    pub(super) instruments: Vec<At<String>>,
    pub(super) options: Vec<OptionDraft>,
}

pub(super) struct OptionDraft {
    pub(super) id: At<String>,
    pub(super) name: At<String>,
    pub(super) means: At<String>,
    pub(super) suits: At<String>,
    pub(super) words: Vec<(At<String>, At<String>)>,
    pub(super) leaves_out: Vec<At<String>>,
    pub(super) asks_again: Vec<At<String>>,
    pub(super) asks_again_after: Option<At<String>>,
    pub(super) slips: Vec<SlipWordsDraft>,
    pub(super) rewords: Vec<RewordDraft>,
    pub(super) refuses: Vec<At<String>>,
    pub(super) turns_into: Option<At<String>>,
    pub(super) turns_after_days: Option<At<u32>>,
}

pub(super) struct RewordDraft {
    pub(super) checkpoint: At<String>,
    pub(super) instruments: Vec<At<String>>,
    pub(super) look_for: Option<At<String>>,
    pub(super) proof: Option<At<String>>,
    pub(super) cue: Option<At<String>>,
}

pub(super) struct SlipWordsDraft {
    pub(super) id: At<String>,
    pub(super) name: At<String>,
    pub(super) look: At<String>,
    pub(super) help: At<String>,
}

pub(super) struct AlternativeDraft {
    pub(super) choice: At<String>,
    pub(super) option: At<String>,
    pub(super) needs: Vec<At<String>>,
}

pub(super) struct StrandDraft {
    pub(super) key: At<String>,
    pub(super) name: String,
    pub(super) stages: Vec<StageDraft>,
}

pub(super) struct StageDraft {
    pub(super) number: At<u32>,
    pub(super) name: At<String>,
    pub(super) seconds: At<u32>,
    pub(super) needs: Vec<At<String>>,
    pub(super) needs_alone: Vec<At<String>>,
    pub(super) alternatives: Vec<AlternativeDraft>,
    pub(super) checkpoints: Vec<CheckpointDraft>,
}

pub(super) struct CheckpointDraft {
    pub(super) id: At<String>,
    pub(super) name: At<String>,
    pub(super) seconds: At<u32>,
    pub(super) required: bool,
    pub(super) far: bool,
    pub(super) play: bool,
    pub(super) wording: Vec<WordingDraft>,
}

pub(super) struct WordingDraft {
    /// Instrument keys with a space between them: `vn va`.
    pub(super) instruments: At<String>,
    pub(super) look_for: Option<At<String>>,
    pub(super) proof: Option<At<String>>,
    pub(super) cue: Option<At<String>>,
}

pub(super) struct SlipDraft {
    pub(super) id: At<String>,
    pub(super) name: At<String>,
    pub(super) instruments: Vec<At<String>>,
    pub(super) checkpoint: At<String>,
    pub(super) look: At<String>,
    pub(super) help: At<String>,
}
