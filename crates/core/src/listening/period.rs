//! How long a period is, roughly: the difference function with cumulative mean normalisation.
//!
//! De Cheveigné, Kawahara, "YIN, a fundamental frequency estimator for speech and music", J. Acoust. Soc. Am. 111/4, 2002:
//! equations 6 and 8, steps 3 to 5.

/// A dip that is so much above the deepest may still be the period: of several periods the shortest is taken.
const ALIKE: f32 = 0.1;

/// A period that was found.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Period {
    /// In samples.
    pub(super) samples: f64,
    /// 0: each period is like the last one; 1: nothing comes again.
    pub(super) unlike: f64,
}

/// Looks for periods; its room is made once.
#[derive(Clone, Debug)]
pub(super) struct Periods {
    shortest: usize,
    unlike: Vec<f32>,
}

impl Periods {
    /// Between these, in samples.
    pub(super) fn new(shortest: f64, longest: f64) -> Self {
        Self { shortest: (shortest.floor() as usize).max(2), unlike: vec![0.0; longest.ceil() as usize + 2] }
    }

    /// The period of a window that holds twice the longest one; `None` where nothing comes again or all is silent.
    pub(super) fn find(&mut self, window: &[f32]) -> Option<Period> {
        let longest = self.unlike.len() - 1;
        let span = window.len().checked_sub(longest)?;
        let start = &window[..span];
        let mut sum = 0.0;
        self.unlike[0] = 1.0;
        for lag in 1..=longest {
            let later = &window[lag..lag + span];
            let differs: f32 = start.iter().zip(later).map(|(a, b)| (a - b) * (a - b)).sum();
            sum += differs;
            self.unlike[lag] = if sum > 0.0 { differs * lag as f32 / sum } else { 1.0 };
        }
        let dips = |at: &usize| {
            let of = &self.unlike;
            of[*at] <= of[*at - 1] && of[*at] < of[*at + 1]
        };
        let all = (self.shortest..longest).filter(dips);
        let deepest = all.clone().map(|at| self.unlike[at]).fold(1.0, f32::min);
        let at = all.clone().find(|at| self.unlike[*at] <= deepest + ALIKE)?;
        let [before, here, after] = [at - 1, at, at + 1].map(|at| f64::from(self.unlike[at]));
        let bend = before - 2.0 * here + after;
        let aside = if bend > 0.0 { ((before - after) / (2.0 * bend)).clamp(-0.5, 0.5) } else { 0.0 };
        let unlike = (here - 0.25 * (before - after) * aside).clamp(0.0, 1.0);
        Some(Period { samples: at as f64 + aside, unlike })
    }
}
