//! The thumb from behind the neck of a cello or bass; of a violin or viola from the side of the low string.

use kurbo::{Point, Vec2};

use super::bow_hand::pressure;
use crate::figure::canvas::Canvas;
use crate::figure::hand::{THUMB_RADII, thumb};
use crate::figure::limb::{End, limb};
use crate::figure::parameters::parameters;
use crate::figure::part::{Part, Place};
use crate::figure::shape::{Class, LabelWord};
use crate::instrument::Instrument;

parameters! {
    /// The numbers of the thumb behind the neck.
    ThumbBack {
        number place (0.0, 4.4, "count") = [1.0, 1.0, 2.0, 2.0], "Opposite which finger it is, 1 to 4, or between two.";
        number side (-30.0, 14.0, "mm") = [-3.0, -3.0, 0.0, 0.0], "How far its tip is from the middle of the neck; below 0 towards the far edge and beyond.";
        number bend (-25.0, 65.0, "degrees") = [16.0, 16.0, 34.0, 34.0], "Bend of its joint; below 0 it is pressed through.";
        number flat (0.0, 100.0, "percent") = [0.0, 0.0, 0.0, 0.0], "How much of its pad lies on the neck.";
        number lift (0.0, 22.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How far it is off the neck: it taps.";
        number squeeze (0.0, 100.0, "percent") = [0.0, 0.0, 0.0, 0.0], "How hard it presses.";
        word pad ("none", "felt") = ["none", "none", "none", "none"], "Whether a felt pad marks the place.";
        word fingers ("shown", "none") = ["shown", "shown", "shown", "shown"], "Whether the fingers on the other side are hinted at.";
    }
}

impl ThumbBack {
    pub(crate) fn canvas(&self, instrument: Instrument) -> Canvas {
        let (half, apart) = match instrument {
            Instrument::Violin | Instrument::Viola => (13.0, 24.0),
            Instrument::Cello => (17.0, 29.0),
            Instrument::Bass => (22.0, 38.0),
        };
        let width = apart * 3.0 + 96.0;
        let mut canvas = Canvas::new(width, 150.0);
        canvas.origin(46.0, 56.0, 0.0);
        let along = |finger: f64| (finger - 1.0) * apart;
        let right = width - 46.0;
        let ends = [End::Round, End::Round];
        if self.fingers == "shown" {
            for finger in [1.0, 2.0, 3.0, 4.0] {
                let x = along(finger);
                canvas.put(
                    Class::Ghost,
                    limb(&[Point::new(x, -half + 4.0), Point::new(x, -half - 13.0)], &[8.0, 7.2], ends),
                );
            }
        }
        let x = along(self.place);
        let tip = Point::new(x, self.side + self.lift);
        let base = Point::new(x - 20.0, half + 60.0);
        let its = thumb(base, tip, self.bend, 1.0);
        let root = its.joints[0];
        let foot = canvas.frame().y1 + 16.0;
        // The palm is on the other side of the neck, the thumb on this one.
        let (index, little) = (Point::new(along(1.0) + 2.0, -half * 0.2), Point::new(along(4.0) - 2.0, half * 0.4));
        let wrist = Point::new(f64::midpoint(root.x, little.x) + 4.0, foot);
        canvas.melt(
            Class::Limb,
            [
                limb(&[index, Point::new(wrist.x - 10.0, foot)], &[11.0, 20.0], [End::Round, End::Cut]),
                limb(&[little, Point::new(wrist.x + 10.0, foot)], &[11.0, 20.0], [End::Round, End::Cut]),
                limb(&[index, little], &[11.0, 11.0], ends),
                limb(&[index.lerp(little, 0.5), wrist], &[24.0, 24.0], [End::Round, End::Cut]),
            ],
        );
        canvas.area(
            Class::Wood,
            &[
                Point::new(-46.0, -half),
                Point::new(right, -half * 1.08),
                Point::new(right, half * 1.08),
                Point::new(-46.0, half),
            ],
        );
        canvas.line(Class::Guide, &[Point::new(-44.0, 0.0), Point::new(right - 2.0, 0.0)]);
        if self.pad == "felt" {
            canvas.disc(Class::Soft, Point::new(along(2.0), 0.0), 10.0);
        }
        let ball = Point::new(wrist.x - 14.0, foot);
        canvas.melt(Class::Limb, [limb(&[root, ball], &[THUMB_RADII[0], 17.0], [End::Round, End::Cut]), its.outline()]);
        canvas.put(
            Class::Skin,
            limb(
                &[root.lerp(ball, 0.2), Point::new(ball.x + 6.0, foot - 1.0)],
                &[THUMB_RADII[0] - 1.2, 17.0],
                [End::Round, End::Cut],
            ),
        );
        // On its tip the nail is seen; on its pad it is not.
        let nail_shows = self.flat < 50.0;
        if nail_shows {
            its.nail_above(&mut canvas);
        } else {
            let along = its.end_along();
            let across = Vec2::new(-along.y, along.x) * 4.0;
            canvas.line(Class::Nail, &[its.tip() - along * 6.0 - across, its.tip() - along * 6.0 + across]);
        }
        canvas.finger(&its);
        canvas.anchor(Part::Thumb, its.joints[1]);
        if self.lift < 0.5 {
            let beyond = self.side < -half;
            canvas.touch(
                Part::Thumb,
                if beyond { Place::BoardEdge } else { Place::NeckBack },
                Point::new(x, self.side.max(-half)),
                0.0,
            );
        } else {
            canvas.anchor(Part::Thumb, its.tip());
            canvas.arrow(Point::new(x + 20.0, half + 26.0), Point::new(x + 20.0, 2.0));
        }
        canvas.anchor(Part::Palm, Point::new(root.x + 20.0, foot - 32.0));
        if self.squeeze > 20.0 {
            pressure(&mut canvas, tip - Vec2::new(0.0, 6.0), -90.0);
            pressure(&mut canvas, its.joints[1] + Vec2::new(14.0, 0.0), 0.0);
        }
        for (finger, word) in
            [(1.0, LabelWord::One), (2.0, LabelWord::Two), (3.0, LabelWord::Three), (4.0, LabelWord::Four)]
        {
            canvas.label(word, Point::new(along(finger), -half - 26.0));
        }
        canvas.label(LabelWord::LeftHand, Point::new(right - 34.0, half + 14.0));
        canvas
    }
}
