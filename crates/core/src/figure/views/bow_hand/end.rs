//! From the frog's end: the round opening between thumb and fingers, the thumb's bend.

use kurbo::{Point, Vec2};

use super::{BowHand, pressure};
use crate::figure::bow::BowSize;
use crate::figure::canvas::Canvas;
use crate::figure::hand::{FINGERS, THUMB_RADII, reaching, thumb};
use crate::figure::limb::{End, blob, limb, polar};
use crate::figure::part::{Part, Place};
use crate::figure::shape::{Class, LabelWord};

impl BowHand {
    pub(super) fn seen_from_the_end(&self, size: BowSize) -> Canvas {
        let mut canvas = Canvas::new(112.0, 128.0);
        canvas.origin(54.0, 94.0, 0.0);
        let half = self.half(size);
        let knuckle = Point::new(13.0, -57.0);
        let wrist = Point::new(-9.0, -124.0);
        let radius = FINGERS[1].radii[3];
        // What is further away comes first: the middle finger on the far side, then the stick, then thumb and little finger.
        let middle = reaching(&FINGERS[1], knuckle, Point::new(half + radius + 1.0, self.drape - radius), 16.0, 1.0);
        let tip_radius = THUMB_RADII[2];
        let round = 168.0 - (self.thumb_depth - 4.0).max(0.0) * 5.2;
        let tip = Point::ZERO + polar(half + tip_radius, round);
        let its = thumb(Point::new(-22.0, -58.0), tip, self.thumb_bend, -1.0);
        let base = its.joints[0];
        let hand = [
            limb(&[knuckle, wrist], &[10.5, 19.0], [End::Round, End::Cut]),
            limb(&[base, wrist], &[THUMB_RADII[0], 16.0], [End::Round, End::Cut]),
            limb(&[knuckle, base], &[9.0, 9.5], [End::Round, End::Round]),
            blob(&[knuckle, wrist, base], true),
        ];
        let (round_hand, thumb_line, middle_line) = (hand, its.outline(), middle.outline());
        canvas.melt(Class::Limb, round_hand.into_iter().chain([middle_line]));
        match self.on {
            "pencil" => canvas.disc(Class::Wood, Point::ZERO, half),
            "hand" => {}
            _ => size.draw_from_the_end(&mut canvas, self.on == "frog"),
        }
        canvas.put(Class::Limb, thumb_line);
        canvas.put(
            Class::Skin,
            limb(
                &[base + (wrist - base) * 0.25, base.lerp(its.joints[1], 0.45)],
                &[THUMB_RADII[0] - 1.0, THUMB_RADII[1] - 0.6],
                [End::Round, End::Round],
            ),
        );
        its.nail(&mut canvas, Vec2::new(-1.0, 0.6));
        middle.nail(&mut canvas, Vec2::new(1.0, 0.0));
        canvas.finger(&its);
        canvas.finger(&middle);
        let at = Point::ZERO + polar(half, round);
        canvas.touch(Part::Thumb, self.thumb_touches(), at, its.gap(at));
        canvas.anchor(Part::Thumb, its.joints[1]);
        let over = Point::new(half, 0.0);
        canvas.anchor(Part::Middle, middle.joints[2]);
        canvas.touch(Part::Middle, if self.on == "pencil" { Place::Pencil } else { Place::Stick }, over, 0.0);
        canvas.anchor(Part::Palm, Point::new(-4.0, -34.0));
        canvas.anchor(Part::Wrist, wrist);
        if self.squeeze > 20.0 {
            pressure(&mut canvas, its.joints[1] - Vec2::new(14.0, 0.0), 180.0);
            pressure(&mut canvas, middle.joints[1] + Vec2::new(12.0, 0.0), 0.0);
        }
        canvas.label(LabelWord::RightHand, Point::new(-30.0, 24.0));
        canvas
    }
}
