//! A plucked string: one delay line that goes round.

use std::collections::VecDeque;
use std::f64::consts::TAU;

use super::Touch;
use super::chance::Chance;
use super::filters::{Allpass, Loss, Soft};

/// So many allpasses in a row make a string stiff.
const STIFF: usize = 4;

pub(super) struct Plucked {
    pub(super) hz: f64,
    /// Until it is 60 dB quieter.
    pub(super) seconds: f64,
    pub(super) stiff: f64,
    pub(super) place: f64,
    pub(super) nail: bool,
    pub(super) buzz: f64,
    pub(super) touch: Touch,
}

impl Plucked {
    pub(super) fn render(&self, rate: f64, count: usize, chance: &mut Chance) -> Vec<f64> {
        let omega = TAU * self.hz / rate;
        let mut stiff: [Allpass; STIFF] = std::array::from_fn(|_| Allpass::new(self.stiff));
        // The whole way round is one period of the lowest partial, exactly; the loss is one sample of it.
        let way = rate / self.hz - 1.0 - stiff[0].delay_at(omega) * STIFF as f64;
        let whole = (way - 0.4).floor().max(2.0);
        let mut part = Allpass::delaying(way - whole, omega);
        let (dull, gain) = match self.touch {
            Touch::Open => (0.06, 1.0),
            Touch::Stopped => (0.16, 1.0),
            Touch::Light => (0.4, 1.0),
        };
        let lost = 1.0 - dull * (1.0 - omega.cos());
        let gain = gain * 10.0_f64.powf(-3.0 / (self.hz * self.seconds)) / lost;
        let mut loss = Loss::new(gain.min(0.999_99), dull);
        let mut line = self.shape(whole as usize, rate, chance);
        let mut grain = Soft::new(7_000.0_f64.min(rate / 2.2), rate);
        let mut out = Vec::with_capacity(count);
        for at in 0..count {
            let leaving = line.pop_front().unwrap_or_default();
            let mut wave = loss.step(leaving);
            for one in &mut stiff {
                wave = one.step(wave);
            }
            wave = part.step(wave);
            line.push_back(wave);
            let mut heard = leaving;
            if self.buzz > 0.0 {
                // It strikes against something each time it swings far, and less as it calms down.
                let noise = chance.noise();
                let rattle = noise - grain.step(noise) * 0.5;
                let calm = (-(at as f64) / rate / 0.25).exp();
                heard += self.buzz * 1.6 * rattle * (leaving.abs() * 2.0 - 0.1).max(0.0) * calm;
            }
            out.push(heard);
        }
        out
    }

    /// The string as the finger lets it go: a corner where it was held, round by flesh and sharp by a nail.
    fn shape(&self, length: usize, rate: f64, chance: &mut Chance) -> VecDeque<f64> {
        let place = self.place.clamp(0.03, 0.5) * chance.between(0.96, 1.04);
        let corner = (length as f64 * place).max(1.0);
        let mut soft = Soft::new(f64::min(if self.nail { 9_000.0 } else { 2_600.0 }, rate / 2.2), rate);
        let swing = |at: f64| if at < corner { at / corner } else { (length as f64 - at) / (length as f64 - corner) };
        // What goes round is how the string moves: the corner's two slopes.
        let steps = (0..length).map(|at| swing(at as f64 + 1.0) - swing(at as f64) + chance.noise() * 0.002 / corner);
        let steps: Vec<f64> = steps.map(|step| soft.step(step * corner)).collect();
        let mean = steps.iter().sum::<f64>() / length.max(1) as f64;
        steps.into_iter().map(|step| step - mean).collect()
    }
}
