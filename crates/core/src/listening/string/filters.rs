//! The small filters that a simulated string is made of. Frequencies are radians a sample.

use std::f64::consts::{PI, TAU};

/// A first-order allpass: it delays, and changes no level.
#[derive(Clone, Debug, Default)]
pub(super) struct Allpass {
    coefficient: f64,
    input: f64,
    output: f64,
}

impl Allpass {
    pub(super) const fn new(coefficient: f64) -> Self {
        Self { coefficient, input: 0.0, output: 0.0 }
    }

    /// One that delays `omega` by exactly `samples`, which lie between 0.3 and 1.5: Thiran's first-order filter, solved at one
    /// frequency instead of at 0 (Jaffe and Smith, "Extensions of the Karplus-Strong plucked-string algorithm", 1983).
    pub(super) fn delaying(samples: f64, omega: f64) -> Self {
        Self::new(((1.0 - samples) * omega / 2.0).sin() / ((1.0 + samples) * omega / 2.0).sin())
    }

    pub(super) fn step(&mut self, input: f64) -> f64 {
        let output = self.coefficient * (input - self.output) + self.input;
        self.input = input;
        self.output = output;
        output
    }

    /// How many samples it delays `omega` by.
    pub(super) fn delay_at(&self, omega: f64) -> f64 {
        let c = self.coefficient;
        let (sine, cosine) = omega.sin_cos();
        let phase = (-sine).atan2(c + cosine) - (-c * sine).atan2(1.0 + c * cosine);
        -phase / omega
    }
}

/// A low-pass of three taps, alike on both sides: it delays everything by exactly one sample.
#[derive(Clone, Debug)]
pub(super) struct Loss {
    gain: f64,
    side: f64,
    before: [f64; 2],
}

impl Loss {
    /// `gain` is what is left of a low tone; `dull`, 0 to 0.5, how much less of a high one.
    pub(super) const fn new(gain: f64, dull: f64) -> Self {
        Self { gain, side: dull / 2.0, before: [0.0; 2] }
    }

    pub(super) fn step(&mut self, input: f64) -> f64 {
        let [last, older] = self.before;
        self.before = [input, last];
        self.gain * (self.side * (input + older) + (1.0 - 2.0 * self.side) * last)
    }
}

/// A resonance of the body, as a two-pole filter.
#[derive(Clone, Debug)]
pub(super) struct Resonance {
    a1: f64,
    a2: f64,
    gain: f64,
    before: [f64; 2],
    inputs: [f64; 2],
}

impl Resonance {
    /// At `hz`, so wide, at a sample rate; a tone there comes out about as loud as it goes in.
    pub(super) fn new(hz: f64, wide_hz: f64, rate: f64) -> Self {
        let radius = (-PI * wide_hz / rate).exp();
        let a1 = -2.0 * radius * (TAU * hz / rate).cos();
        Self { a1, a2: radius * radius, gain: (1.0 - radius * radius) / 2.0, before: [0.0; 2], inputs: [0.0; 2] }
    }

    pub(super) fn step(&mut self, input: f64) -> f64 {
        let [last, older] = self.before;
        let output = self.gain * (input - self.inputs[1]) - self.a1 * last - self.a2 * older;
        self.inputs = [input, self.inputs[0]];
        self.before = [output, last];
        output
    }
}

/// A one-pole low-pass.
#[derive(Clone, Debug)]
pub(super) struct Soft {
    share: f64,
    state: f64,
}

impl Soft {
    pub(super) fn new(hz: f64, rate: f64) -> Self {
        Self { share: 1.0 - (-TAU * hz / rate).exp(), state: 0.0 }
    }

    pub(super) fn step(&mut self, input: f64) -> f64 {
        self.state += self.share * (input - self.state);
        self.state
    }
}
