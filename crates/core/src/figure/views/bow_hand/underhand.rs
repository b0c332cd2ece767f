//! A bass bow held from below.

use kurbo::{Point, Vec2};

use super::{BowHand, helping_hand, pressure};
use crate::figure::bow::BowSize;
use crate::figure::canvas::Canvas;
use crate::figure::hand::{FINGERS, THUMB_RADII, forearm, palm, reaching, thumb};
use crate::figure::limb::{End, limb};
use crate::figure::part::{Part, Place};
use crate::figure::shape::{Class, LabelWord};

impl BowHand {
    /// The frog in the palm, the thumb on top, the first fingers along the side, the little finger below.
    pub(super) fn underhand(&self, size: BowSize) -> Canvas {
        let mut canvas = Canvas::new(190.0, 150.0);
        canvas.origin(104.0, 62.0, -self.upright * 0.15);
        self.held(&mut canvas, size, 72.0);
        let half = self.half(size);
        let depth = if self.on == "frog" { size.frog_depth } else { half };
        let wrist = Point::new(-80.0, 24.0 + self.wrist * 0.3);
        let roots = [Point::new(-36.0, 0.0), Point::new(-36.0, 12.0), Point::new(-38.0, 24.0), Point::new(-42.0, 34.0)];
        let mut hand = palm(&roots, [9.0, 8.4], wrist, 18.0);
        hand.push(forearm(wrist, Vec2::new(-1.0, 0.35 - self.wrist / 90.0), 50.0, 0.8));
        canvas.melt(Class::Limb, hand);
        let index = reaching(
            &FINGERS[0],
            roots[0],
            Point::new(14.0 + self.index_place * 0.5, half * 0.4),
            self.index_curl * 0.4,
            1.0,
        );
        let middle = reaching(&FINGERS[1], roots[1], Point::new(4.0 + self.drape, half + 7.5), 10.0, 1.0);
        let ring = reaching(&FINGERS[2], roots[2], Point::new(9.0, depth - 9.0), 36.0, 1.0);
        let radius = FINGERS[3].radii[3];
        let little_tip = Point::new(-12.0, depth + radius + self.little_lift);
        let little = reaching(&FINGERS[3], roots[3], little_tip, self.little_bend * 0.6, -1.0);
        for finger in [&little, &ring, &middle, &index] {
            canvas.over_the_palm(finger);
        }
        let through = (self.thumb_depth - 5.0).max(0.0) * 1.7;
        let tip = Point::new(self.thumb_place.max(0.0) + 6.0, through - half - THUMB_RADII[2]);
        let its = thumb(Point::new(-60.0, 6.0), tip, self.thumb_bend * 0.8, 1.0);
        canvas.put(Class::Limb, its.outline());
        canvas.put(
            Class::Skin,
            limb(
                &[wrist.lerp(its.joints[0], 0.6), its.joints[0].lerp(its.joints[1], 0.4)],
                &[12.0, THUMB_RADII[1] - 0.8],
                [End::Round, End::Round],
            ),
        );
        its.nail(&mut canvas, Vec2::new(0.0, -1.0));
        for (finger, part) in
            [(&index, Part::Index), (&middle, Part::Middle), (&ring, Part::Ring), (&little, Part::Little)]
        {
            canvas.finger(finger);
            canvas.anchor(part, finger.joints[2]);
        }
        canvas.finger(&its);
        let on = if self.on == "pencil" { Place::Pencil } else { Place::StickTop };
        let at = Point::new(tip.x, -half);
        if through < 0.5 {
            canvas.touch(Part::Thumb, on, at, its.gap(at));
        }
        canvas.anchor(Part::Thumb, its.tip());
        canvas.touch(Part::Index, if self.on == "pencil" { Place::Pencil } else { Place::Stick }, index.tip(), 0.0);
        if self.on == "frog" && self.little_lift < 0.5 {
            let at = Point::new(little.tip().x, depth);
            canvas.touch(Part::Little, Place::FrogUnder, at, little.gap(at));
        }
        canvas.anchor(Part::Palm, roots[2].lerp(wrist, 0.5));
        canvas.anchor(Part::Knuckles, roots[1]);
        canvas.anchor(Part::Wrist, wrist);
        if self.squeeze > 20.0 {
            pressure(&mut canvas, Point::new(its.joints[1].x, its.joints[1].y - 14.0), -90.0);
            pressure(&mut canvas, Point::new(-30.0, 50.0), 90.0);
        }
        if self.helper == "stick" {
            helping_hand(&mut canvas, Point::new(62.0, 0.0));
        }
        canvas.label(LabelWord::RightHand, Point::new(-60.0, 74.0));
        canvas
    }
}
