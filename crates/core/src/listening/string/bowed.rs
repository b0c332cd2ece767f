//! A bowed string: two delay lines that meet at the bow.

use std::collections::VecDeque;
use std::f64::consts::{PI, TAU};

use super::BowTurn;
use super::chance::Chance;
use super::filters::{Allpass, Loss, Soft};

pub(super) struct Bowed {
    pub(super) hz: f64,
    pub(super) force: f64,
    pub(super) place: f64,
    pub(super) speed: f64,
    pub(super) waver: f64,
    pub(super) turn: Option<BowTurn>,
}

/// The friction curve: how fast hair lets go as string and bow differ, less when it is pressed, and where it begins to. With a curve that lets go
/// sooner a full stroke slips twice a period now and then, which a string under a steady bow arm hardly does.
const STEEP: f64 = 4.8;
const HOLDS: f64 = 0.72;

/// Seconds from full speed to standing still before a turn without a jump.
const EASED: f64 = 0.04;
/// Seconds in which a stroke that lands with a jump stays as hard, and then calms down to about a third.
const LANDED: f64 = 0.15;

/// How the bow is moved at a moment.
struct Moved {
    /// 1 one way, -1 the other, in between while it turns.
    way: f64,
    /// How much of a jump is left, 0 to 1.
    landed: f64,
}

impl BowTurn {
    fn at(self, seconds: f64) -> Moved {
        let jump = self.jump.clamp(0.0, 1.0);
        let since = seconds - self.after;
        let eased = EASED * (1.0 - 0.9 * jump);
        let way = -(since / eased).clamp(-1.0, 1.0) * PI / 2.0;
        Moved { way: way.sin(), landed: if since < 0.0 { 0.0 } else { jump * (1.0 - since / LANDED).min(0.0).exp() } }
    }
}

impl Bowed {
    pub(super) fn render(&self, rate: f64, count: usize, chance: &mut Chance) -> Vec<f64> {
        let omega = TAU * self.hz / rate;
        // Both ways together are one period; the loss at the bridge is one sample of it.
        let way = rate / self.hz - 1.0;
        let place = self.place.clamp(0.02, 0.4);
        let to_bridge = (way * place).round().max(1.0);
        let rest = way - to_bridge;
        let whole = (rest - 0.4).floor().max(2.0);
        let mut part = Allpass::delaying(rest - whole, omega);
        let mut bridge: VecDeque<f64> = std::iter::repeat_n(0.0, to_bridge as usize).collect();
        let mut neck: VecDeque<f64> = std::iter::repeat_n(0.0, whole as usize).collect();
        let mut loss = Loss::new(0.985, 0.22);
        let (force, fast) = (self.force.clamp(0.0, 1.0), 0.05 + 0.25 * self.speed.clamp(0.0, 1.0));
        let mut rough = Soft::new(1_800.0_f64.min(rate / 2.2), rate);
        let mut breath = Soft::new(2_500.0_f64.min(rate / 2.2), rate);
        let hush = (0.22 - force).max(0.0) * 5.0;
        let mut out = Vec::with_capacity(count);
        for at in 0..count {
            let seconds = at as f64 / rate;
            let begun = (seconds / 0.06).min(1.0);
            let tremble = 1.0 + self.waver * 0.9 * (TAU * 6.3 * seconds + (TAU * 2.1 * seconds).sin()).sin();
            let noise = rough.step(chance.noise());
            let moved = self.turn.map_or(Moved { way: 1.0, landed: 0.0 }, |turn| turn.at(seconds));
            // What jumps at the turn lands faster and with more weight than it goes on.
            let lands = 1.0 + 3.0 * moved.landed;
            // Hair with less weight, as where it turns gently, slips sooner.
            let weight = moved.way.abs().max(0.2) * lands;
            let pressed = (force + 0.3 * moved.landed).min(1.0);
            // Pressed hard while it hardly moves, the hair lets go when it likes.
            let grating = (pressed * (1.3 - self.speed) - 0.55).max(0.0) * 5.0;
            let fast = fast * moved.way * lands;
            let bow = fast * begun * tremble * (1.0 + noise * (0.03 + grating * 4.0));
            let from_bridge = -loss.step(bridge.pop_front().unwrap_or_default());
            let from_neck = -part.step(neck.pop_front().unwrap_or_default());
            let differs = bow - (from_bridge + from_neck);
            // The friction curve: it sticks near 0 and slips beyond.
            let steep = STEEP - 4.0 * pressed;
            let holds = ((differs / weight * steep).abs() + HOLDS).powi(-4).min(1.0);
            let added = differs * holds;
            neck.push_back(from_bridge + added);
            bridge.push_back(from_neck + added);
            let hiss = breath.step(chance.noise()) * fast * (0.004 + hush * 4.0) * begun;
            out.push(from_bridge + hiss);
        }
        out
    }
}
