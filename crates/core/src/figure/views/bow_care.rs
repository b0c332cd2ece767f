//! A bow from the side, drawn shorter than it is: the gap in the middle, the screw, rosin, hands off the hair.

use kurbo::{BezPath, Point, Vec2};

use crate::figure::bow::BowSize;
use crate::figure::canvas::Canvas;
use crate::figure::limb::{End, limb};
use crate::figure::parameters::parameters;
use crate::figure::part::{Part, Place};
use crate::figure::shape::Class;
use crate::instrument::Instrument;

parameters! {
    /// The numbers of a bow that is looked after.
    BowCare {
        number gap (0.0, 22.0, "mm") = [8.0, 8.0, 8.5, 9.0], "Between hair and stick in the middle.";
        word gauge ("none", "pencil") = ["pencil", "pencil", "pencil", "pencil"], "What measures the gap.";
        word screw ("still", "tighten", "loosen") = ["still", "still", "still", "still"], "Which way the screw is turned.";
        word string ("none", "under") = ["none", "none", "none", "none"], "Whether a string is under the hair.";
        word rosin ("none", "on the hair") = ["none", "none", "none", "none"], "Whether rosin is put on.";
        word hand ("none", "stick", "hair") = ["none", "none", "none", "none"], "What a hand holds.";
    }
}

impl BowCare {
    pub(crate) fn canvas(&self, instrument: Instrument) -> Canvas {
        let size = BowSize::of(instrument);
        let (length, depth) = (132.0, size.frog_depth);
        let mut canvas = Canvas::new(222.0, 118.0);
        canvas.origin(74.0, 44.0, 0.0);
        size.draw(&mut canvas, 0.0, 26.0);
        // The stick curves towards the hair and is straightened by it.
        let hair = depth - 3.5;
        let middle = hair - self.gap;
        let head = Point::new(length, 0.0);
        let mut stick = BezPath::new();
        let (half, dip) = (size.stick, middle * 2.0);
        stick.move_to(Point::new(18.0, -half));
        stick.quad_to(Point::new(length / 2.0, dip - half), head - Vec2::new(0.0, half * 0.8));
        stick.line_to(head + Vec2::new(0.0, half * 0.8));
        stick.quad_to(Point::new(length / 2.0, dip + half), Point::new(18.0, half));
        stick.close_path();
        canvas.area(
            Class::Hair,
            &[
                Point::new(0.0, hair - 1.8),
                Point::new(length - 2.0, hair - 1.2),
                Point::new(length - 2.0, hair + 1.0),
                Point::new(0.0, hair + 1.8),
            ],
        );
        canvas.put(Class::Wood, stick);
        canvas.area(
            Class::Wood,
            &[
                head - Vec2::new(3.0, half),
                head + Vec2::new(7.0, -half),
                head + Vec2::new(3.0, hair + 2.0),
                head + Vec2::new(-6.0, hair + 2.0),
            ],
        );
        let between = Point::new(length / 2.0, middle + half * 0.6 + (hair - middle - half * 0.6) / 2.0);
        canvas.anchor(Part::Hair, between);
        if self.string == "under" {
            canvas.disc(Class::Sounding, Point::new(length / 2.0, hair + 4.6), 3.0);
            canvas.touch(Part::Bow, Place::String, Point::new(length / 2.0, hair + 1.4), 0.0);
        }
        if self.gauge == "pencil" {
            canvas.disc(Class::Soft, between, 3.6);
        }
        let screw = Point::new(-size.frog_length - size.screw / 2.0, 0.0);
        canvas.anchor(Part::Bow, screw);
        match self.screw {
            "tighten" => canvas.arrow(screw + Vec2::new(-8.0, 16.0), screw + Vec2::new(8.0, -18.0)),
            "loosen" => canvas.arrow(screw + Vec2::new(8.0, -18.0), screw + Vec2::new(-8.0, 16.0)),
            _ => {}
        }
        if self.rosin == "on the hair" {
            let x = length * 0.4;
            canvas.area(
                Class::Soft,
                &[
                    Point::new(x - 15.0, hair + 1.0),
                    Point::new(x + 15.0, hair + 1.0),
                    Point::new(x + 15.0, hair + 18.0),
                    Point::new(x - 15.0, hair + 18.0),
                ],
            );
            canvas.arrow(Point::new(x, hair + 28.0), Point::new(x + 62.0, hair + 28.0));
            canvas.touch(Part::Hair, Place::Hair, Point::new(x, hair + 1.0), 0.0);
        }
        let y = if self.hand == "hair" { hair } else { middle * 0.6 };
        if self.hand != "none" {
            let at = Point::new(length * 0.68, y);
            let ends = [End::Round, End::Round];
            let arm = limb(
                &[at + Vec2::new(22.0, -10.0), at + Vec2::new(44.0, -34.0)],
                &[12.0, 12.0],
                [End::Round, End::Round],
            );
            canvas.melt(
                Class::Limb,
                [
                    arm,
                    limb(
                        &[at + Vec2::new(24.0, -14.0), at + Vec2::new(8.0, -9.0), at + Vec2::new(-4.0, -6.5)],
                        &[9.0, 7.0, 5.8],
                        ends,
                    ),
                    limb(
                        &[at + Vec2::new(26.0, 2.0), at + Vec2::new(10.0, 8.0), at + Vec2::new(-2.0, 6.5)],
                        &[9.0, 7.0, 5.8],
                        ends,
                    ),
                ],
            );
            let place = if self.hand == "hair" { Place::Hair } else { Place::Stick };
            canvas.touch(Part::Index, place, at, 0.0);
        }
        canvas
    }
}
