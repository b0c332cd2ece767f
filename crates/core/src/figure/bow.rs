//! The bow near the hand: stick, winding, frog, ferrule and hair.

use kurbo::{Point, Vec2};

use super::canvas::Canvas;
use super::limb::{End, limb};
use super::shape::Class;
use crate::instrument::Instrument;

/// How large a bow's parts are, in millimetres: usual measures of three-quarter bows.
#[derive(Clone, Copy, Debug)]
pub(super) struct BowSize {
    /// Half of the stick's thickness.
    pub(super) stick: f64,
    /// From the ferrule back to the frog's end.
    pub(super) frog_length: f64,
    /// From the stick's middle down to the frog's foot.
    pub(super) frog_depth: f64,
    /// From the frog's end to the end of the screw.
    pub(super) screw: f64,
}

impl BowSize {
    pub(super) const fn of(instrument: Instrument) -> Self {
        match instrument {
            Instrument::Violin | Instrument::Viola => {
                Self { stick: 4.2, frog_length: 45.0, frog_depth: 25.0, screw: 13.0 }
            }
            Instrument::Cello => Self { stick: 5.0, frog_length: 50.0, frog_depth: 30.0, screw: 14.0 },
            Instrument::Bass => Self { stick: 6.0, frog_length: 56.0, frog_depth: 36.0, screw: 16.0 },
        }
    }

    /// The middle of the frog's eye, where the ferrule's front is at (0, 0) on the stick's middle.
    pub(super) fn eye(&self) -> Point {
        Point::new(-self.frog_length * 0.56, self.stick + (self.frog_depth - self.stick) * 0.5)
    }

    /// Stick, winding, frog and hair from the screw to `to` on the right, the front of the frog at `front`.
    pub(super) fn draw(&self, canvas: &mut Canvas, front: f64, to: f64) {
        let (stick, depth) = (self.stick, self.frog_depth);
        let back = front - self.frog_length;
        canvas.area(
            Class::Hair,
            &[
                Point::new(front - 2.0, depth - 5.5),
                Point::new(to, depth - 2.5),
                Point::new(to, depth - 0.5),
                Point::new(front - 2.0, depth - 2.0),
            ],
        );
        canvas.put(
            Class::Wood,
            limb(&[Point::new(back, 0.0), Point::new(to, 0.0)], &[stick, stick * 0.86], [End::Cut, End::Cut]),
        );
        canvas.area(
            Class::Ferrule,
            &[
                Point::new(back - self.screw, -stick),
                Point::new(back - self.screw, stick),
                Point::new(back, stick),
                Point::new(back, -stick),
            ],
        );
        for turn in 0..5_u8 {
            let x = front + 14.0 + f64::from(turn) * 3.6;
            if x < to - 1.0 {
                canvas.line(Class::Nail, &[Point::new(x, -stick), Point::new(x + 1.2, stick)]);
            }
        }
        // The frog's front is hollowed out for the thumb.
        canvas.put(Class::Frog, {
            let mut path = kurbo::BezPath::new();
            path.move_to(Point::new(back, stick));
            path.line_to(Point::new(front - 7.0, stick));
            path.quad_to(Point::new(front - 11.0, depth * 0.62), Point::new(front - 3.0, depth - 7.0));
            path.line_to(Point::new(front, depth - 7.0));
            path.line_to(Point::new(front, depth));
            path.line_to(Point::new(back, depth));
            path.close_path();
            path
        });
        canvas.area(
            Class::Ferrule,
            &[
                Point::new(front - 7.0, depth - 7.5),
                Point::new(front, depth - 7.5),
                Point::new(front, depth),
                Point::new(front - 7.0, depth),
            ],
        );
        canvas.disc(Class::Ferrule, self.eye() + Vec2::new(front, 0.0), depth * 0.13);
    }

    /// The stick and the frog seen from the frog's end, the stick's middle at (0, 0).
    pub(super) fn draw_from_the_end(&self, canvas: &mut Canvas, frog: bool) {
        let (half, depth) = (self.stick * 1.45, self.frog_depth);
        if frog {
            // Seen through, so that the thumb behind it shows.
            canvas.area(
                Class::Ghost,
                &[
                    Point::new(-half, 0.0),
                    Point::new(half, 0.0),
                    Point::new(half * 1.1, depth),
                    Point::new(-half * 1.1, depth),
                ],
            );
            canvas.area(
                Class::Hair,
                &[
                    Point::new(-half * 0.9, depth - 2.0),
                    Point::new(half * 0.9, depth - 2.0),
                    Point::new(half * 0.9, depth),
                    Point::new(-half * 0.9, depth),
                ],
            );
        }
        canvas.disc(Class::Wood, Point::ZERO, self.stick);
    }
}
