//! From the front: chair, legs, trunk, head, stand, and arms that hang.

use kurbo::{Affine, Point, Vec2};

use super::{Body, TRUNK};
use crate::figure::canvas::Canvas;
use crate::figure::limb::{End, limb};
use crate::figure::part::{Part, Place};
use crate::figure::people::{ARM, SHOULDER, arm, head, trunk};
use crate::figure::shape::Class;
use crate::instrument::Instrument;

impl Body {
    pub(super) fn seen_from_the_front(&self, canvas: &mut Canvas, instrument: Instrument) {
        let hip = self.hip_height();
        let lean = self.lean * 5.0;
        let base = Point::new(lean, -hip - TRUNK);
        if self.sits() {
            self.chair_from_the_front(canvas);
        }
        self.legs_from_the_front(canvas, hip, self.sits());
        let over = Affine::translate(base.to_vec2());
        let [chest, shoulders] = trunk(self.left_shoulder, 0.0, TRUNK - 10.0, -lean);
        canvas.melt(Class::Limb, [over * chest, over * shoulders]);
        canvas.anchor(Part::Back, base + Vec2::new(0.0, 170.0));
        canvas.anchor(Part::Shoulder, base + Vec2::new(SHOULDER, -10.0 - self.left_shoulder));
        match instrument {
            Instrument::Violin | Instrument::Viola => self.with_a_violin(canvas, instrument, base),
            Instrument::Cello => self.with_a_cello(canvas, base, false),
            Instrument::Bass => self.with_a_cello(canvas, base, true),
        }
        if self.measure == "height" {
            canvas.arrow(Point::new(-340.0, -60.0), Point::new(-340.0, base.y - 220.0));
        }
        self.stand_from_the_front(canvas, base);
    }

    fn stand_from_the_front(&self, canvas: &mut Canvas, base: Point) {
        if self.stand == "none" {
            return;
        }
        let eyes = base.y - 120.0;
        let (x, y) = (-290.0, if self.stand == "eyes" { eyes } else { base.y + 330.0 });
        canvas.bar(Class::Ferrule, Point::new(x, -10.0), Point::new(x, y), 9.0);
        let corner = |across: f64, down: f64| Point::new(x + across, y + down);
        canvas
            .area(Class::Board, &[corner(-62.0, -74.0), corner(62.0, -74.0), corner(62.0, 70.0), corner(-62.0, 70.0)]);
        canvas.line(Class::Guide, &[Point::new(x + 66.0, eyes), Point::new(base.x - 80.0, eyes)]);
        canvas.anchor(Part::Stand, Point::new(x, y));
    }

    fn chair_from_the_front(&self, canvas: &mut Canvas) {
        let (half, top) = (if self.seat == "stool" { 120.0 } else { 185.0 }, -self.seat_height);
        for x in [-half + 14.0, half - 14.0] {
            canvas.bar(Class::Wood, Point::new(x, top + 10.0), Point::new(x * 1.06, -8.0), 20.0);
        }
        canvas.bar(Class::Wood, Point::new(-half, top + 8.0), Point::new(half, top + 8.0), 28.0);
    }

    fn legs_from_the_front(&self, canvas: &mut Canvas, hip: f64, sits: bool) {
        let half = self.feet / 2.0;
        let ends = [End::Round, End::Round];
        for side in [-1.0, 1.0] {
            let root = Point::new(side * 62.0, -hip + 10.0);
            let foot = Point::new(side * half, -38.0);
            let knee = if sits {
                Point::new(side * (half * 0.95 + 14.0), -self.seat_height + 6.0)
            } else {
                root.lerp(foot, 0.5)
            };
            let turn = if side > 0.0 { self.foot_turn } else { 6.0 };
            let toe = foot + Vec2::new(side * (16.0 + turn * 1.5), 24.0 - turn * 0.1);
            canvas.melt(
                Class::Limb,
                [
                    limb(&[root, knee, foot], &[62.0, 50.0, 30.0], ends),
                    limb(&[foot + Vec2::new(0.0, 8.0), toe], &[27.0, 22.0], ends),
                ],
            );
            canvas.anchor(Part::Knees, knee);
            canvas.touch(Part::Feet, Place::Floor, Point::new(toe.x - side * 8.0, -4.0), 0.0);
        }
    }

    /// The head, turned and dropped as it is set; its middle.
    pub(super) fn turned_head(&self, canvas: &mut Canvas, base: Point, tilt: f64) -> Point {
        let middle = head(canvas, base + Vec2::new(0.0, -2.0), self.head_turn, self.head_drop, tilt);
        canvas.anchor(Part::Head, middle - Vec2::new(0.0, 30.0));
        middle
    }

    /// Where the shoulders' joints are, the left first.
    pub(super) fn shoulders(&self, base: Point) -> [Point; 2] {
        [base + Vec2::new(SHOULDER, 22.0 - self.left_shoulder), base + Vec2::new(-SHOULDER, 22.0)]
    }

    /// An arm that hangs at the side: 1 is the left one.
    pub(super) fn hanging(canvas: &mut Canvas, shoulder: Point, side: f64) {
        let joint = shoulder + Vec2::new(side * 26.0, ARM[0]);
        let hand = joint + Vec2::new(side * -4.0, ARM[1]);
        canvas.melt(Class::Limb, arm(shoulder, joint, hand, hand + Vec2::new(side * 2.0, 70.0)));
    }
}

/// Strokes beside what moves.
pub(super) fn wobbling(canvas: &mut Canvas, at: Point) {
    canvas.line(Class::Nail, &[at, at + Vec2::new(26.0, 26.0), at + Vec2::new(14.0, 62.0)]);
    canvas.line(Class::Nail, &[at + Vec2::new(34.0, 0.0), at + Vec2::new(60.0, 26.0), at + Vec2::new(48.0, 62.0)]);
}
