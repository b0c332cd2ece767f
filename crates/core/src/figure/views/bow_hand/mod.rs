//! The hand on the bow: as the director sees it who faces the child, or from the frog's end.

mod end;
mod front;
mod underhand;

use kurbo::{Point, Vec2};

use crate::figure::bow::BowSize;
use crate::figure::canvas::Canvas;
use crate::figure::hand::THUMB_RADII;
use crate::figure::limb::{End, limb, line, polar};
use crate::figure::parameters::parameters;
use crate::figure::part::{Part, Place};
use crate::figure::shape::Class;
use crate::instrument::Instrument;

parameters! {
    /// The numbers of the hand on the bow. Along the stick they count from the front of the frog, towards the tip.
    BowHand {
        word seen ("front", "end") = ["front", "front", "front", "front"], "From where it is seen.";
        word hold ("overhand", "underhand") = ["overhand", "overhand", "overhand", "overhand"], "How a bass bow is held.";
        word on ("hand", "pencil", "balance", "frog") = ["frog", "frog", "frog", "frog"], "What the hand holds.";
        number thumb_bend (-25.0, 75.0, "degrees") = [48.0, 48.0, 42.0, 40.0], "Bend of the thumb's joint; below 0 it is pressed through.";
        number thumb_place (-6.0, 20.0, "mm") = [1.0, 1.0, -2.0, -2.0], "Where the thumb touches the stick.";
        number thumb_depth (2.0, 18.0, "mm") = [5.0, 5.0, 5.0, 5.0], "How far the thumb's tip comes through below the stick.";
        number opposite (-4.0, 12.0, "mm") = [1.0, 1.0, 1.0, 1.0], "How far the middle finger is from the thumb, towards the tip.";
        number drape (2.0, 27.0, "mm") = [16.0, 16.0, 23.0, 24.0], "How far the two middle fingers hang below the stick's middle.";
        number middle_gap (0.0, 9.0, "mm") = [0.4, 0.4, 3.0, 3.0], "Room between the two middle fingers.";
        number index_place (14.0, 48.0, "mm") = [23.0, 23.0, 24.0, 24.0], "How far the index lies from the middle finger.";
        number index_reach (-6.0, 24.0, "mm") = [9.0, 9.0, 14.0, 14.0], "How far the index hangs below the stick's middle.";
        number index_curl (-20.0, 80.0, "degrees") = [30.0, 30.0, 28.0, 28.0], "Bend of the index's end joint.";
        number little_bend (0.0, 70.0, "degrees") = [60.0, 60.0, 26.0, 26.0], "Bend of the little finger's middle joint.";
        number little_lift (0.0, 28.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How far the little finger is off the stick.";
        number little_drape (0.0, 22.0, "mm") = [0.0, 0.0, 15.0, 16.0], "How far the little finger hangs over the stick; 0 is on top.";
        number lean (-20.0, 30.0, "degrees") = [12.0, 12.0, 12.0, 12.0], "How far the knuckles slope to the bow's tip.";
        number wrist (-40.0, 40.0, "degrees") = [0.0, 0.0, 0.0, 0.0], "The wrist: above 0 it is pushed up, below 0 sunk.";
        number upright (0.0, 90.0, "degrees") = [0.0, 0.0, 0.0, 0.0], "How far the bow's tip points up.";
        number drawn (0.0, 40.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How far the pencil is drawn out of the hand.";
        number squeeze (0.0, 100.0, "percent") = [0.0, 0.0, 0.0, 0.0], "How hard the hand presses.";
        word helper ("none", "stick") = ["none", "none", "none", "none"], "Whether the other hand carries the stick.";
    }
}

impl BowHand {
    pub(crate) fn canvas(&self, instrument: Instrument) -> Canvas {
        let size = BowSize::of(instrument);
        if self.hold == "underhand" && instrument == Instrument::Bass {
            self.underhand(size)
        } else if self.seen == "end" {
            self.seen_from_the_end(size)
        } else {
            self.seen_from_the_front(size)
        }
    }

    /// What the hand holds, to the right until `to`.
    fn held(&self, canvas: &mut Canvas, size: BowSize, to: f64) {
        match self.on {
            "frog" => size.draw(canvas, 0.0, to),
            "balance" => {
                let depth = size.frog_depth * 0.62;
                canvas.bar(Class::Hair, Point::new(-70.0, depth), Point::new(to, depth - 1.5), 2.4);
                let ends = [End::Cut, End::Cut];
                canvas.put(
                    Class::Wood,
                    limb(&[Point::new(-70.0, 0.0), Point::new(to, 0.0)], &[size.stick, size.stick], ends),
                );
            }
            "pencil" => {
                let half = 3.8;
                let (near, end) = (Point::new(self.drawn - 48.0, 0.0), Point::new(self.drawn + to.min(82.0), 0.0));
                let high = Vec2::new(0.0, half);
                canvas.area(
                    Class::Soft,
                    &[near - high - Vec2::new(10.0, 0.0), near - high, near + high, near + high - Vec2::new(10.0, 0.0)],
                );
                let cone = end - Vec2::new(15.0, 0.0);
                canvas.area(Class::Wood, &[near - high, cone - high, end, cone + high, near + high]);
                canvas.line(Class::Nail, &[near - high * 0.2, cone - high * 0.2]);
                if self.drawn > 5.0 {
                    canvas.arrow(Point::new(58.0, 22.0), Point::new(58.0 + self.drawn, 22.0));
                }
            }
            _ => {}
        }
    }

    /// Half of the thickness of what is held.
    fn half(&self, size: BowSize) -> f64 {
        match self.on {
            "pencil" => 3.8,
            "hand" => THUMB_RADII[2] * 0.4,
            _ => size.stick,
        }
    }

    fn thumb_touches(&self) -> Place {
        match self.on {
            "pencil" => Place::Pencil,
            "balance" => Place::Stick,
            _ if self.thumb_depth > 12.0 => Place::FrogUnder,
            _ if self.thumb_place > 4.0 => Place::Wrapping,
            _ => Place::FrogFront,
        }
    }
}

/// Three short strokes that go out from where something presses.
pub(super) fn pressure(canvas: &mut Canvas, from: Point, degrees: f64) {
    for aside in [-32.0, 0.0, 32.0] {
        let (a, b) = (from + polar(3.0, degrees + aside), from + polar(10.0, degrees + aside));
        canvas.put(Class::Nail, line(&[a, b]));
    }
}

/// The left hand that carries the stick: four fingers over it, thumb behind.
fn helping_hand(canvas: &mut Canvas, at: Point) {
    let ends = [End::Round, End::Round];
    let palm = limb(&[at + Vec2::new(6.0, 16.0), at + Vec2::new(16.0, 24.0)], &[16.0, 12.0], [End::Round, End::Cut]);
    canvas.put(Class::Limb, palm);
    for finger in 0..4_u8 {
        let x = at.x - 13.0 + f64::from(finger) * 9.6;
        let tip = [4.0, 6.0, 6.0, 3.0][usize::from(finger)];
        let path = limb(
            &[Point::new(x + 3.0, 14.0), Point::new(x, -9.0), Point::new(x - 1.0, -9.0 - tip)],
            &[5.4, 5.2, 4.8],
            ends,
        );
        canvas.put(Class::Limb, path);
    }
    canvas.anchor(Part::Helper, at);
}
