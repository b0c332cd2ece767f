//! The left hand from above the fingerboard: which finger lies where, which are down, which hover.

use kurbo::{Point, Vec2};

use crate::figure::canvas::Canvas;
use crate::figure::hand::{FINGER_PARTS, FINGERS, Finger};
use crate::figure::limb::{End, limb};
use crate::figure::parameters::parameters;
use crate::figure::part::{Part, Place};
use crate::figure::shape::{Class, LabelWord};
use crate::instrument::Instrument;

parameters! {
    /// The numbers of the left hand. Fingers lie so many semitones above the open string.
    LeftHand {
        number one (0.0, 4.0, "semitones") = [2.0, 2.0, 2.0, 2.0], "Where the first finger lies.";
        number two (1.0, 6.0, "semitones") = [4.0, 4.0, 3.0, 3.0], "Where the second finger lies.";
        number three (2.0, 7.0, "semitones") = [5.0, 5.0, 4.0, 3.55], "Where the third finger lies.";
        number four (3.0, 8.0, "semitones") = [7.0, 7.0, 5.0, 4.0], "Where the fourth finger lies.";
        number string (1.0, 4.0, "count") = [3.0, 2.0, 2.0, 2.0], "Which string, 1 the highest.";
        number down (0.0, 4.0, "count") = [4.0, 4.0, 4.0, 4.0], "Up to which finger they are down.";
        word others ("kept", "lifted") = ["kept", "kept", "kept", "kept"], "Whether the lower fingers stay down with it.";
        number single (0.0, 4.0, "count") = [0.0, 0.0, 0.0, 0.0], "Which finger is lifted alone; 0 is none.";
        number lift (2.0, 34.0, "mm") = [6.0, 6.0, 6.0, 6.0], "How high the other fingers are.";
        word across ("one string", "a string each") = ["one string", "one string", "one string", "one string"], "Whether each finger has a string of its own.";
        number pad (0.0, 6.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How far the tips lie beyond the string.";
        number turn (0.0, 45.0, "degrees") = [30.0, 30.0, 6.0, 6.0], "How far the knuckles' line is turned from the strings.";
        number thumb (0.0, 7.0, "semitones") = [2.0, 2.0, 3.0, 3.0], "Where the thumb is on the other side of the neck.";
        word markers ("none", "tapes") = ["tapes", "tapes", "tapes", "tapes"], "What is on the fingerboard.";
        number stretch (0.0, 14.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How much longer the fourth finger lies.";
        number drop (0.0, 46.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How far the hand has sunk away from the board.";
        word slide ("none", "shown") = ["none", "none", "none", "none"], "Whether an arrow along the neck is drawn.";
        number squeeze (0.0, 100.0, "percent") = [0.0, 0.0, 0.0, 0.0], "How hard the hand presses.";
    }
}

/// A fingerboard near the nut.
struct Board {
    length: f64,
    half: f64,
    width: f64,
}

impl Board {
    const fn of(instrument: Instrument) -> Self {
        match instrument {
            Instrument::Violin => Self { length: 285.0, half: 11.5, width: 152.0 },
            Instrument::Viola => Self { length: 305.0, half: 12.5, width: 160.0 },
            Instrument::Cello => Self { length: 560.0, half: 16.0, width: 214.0 },
            Instrument::Bass => Self { length: 780.0, half: 21.0, width: 238.0 },
        }
    }

    fn along(&self, semitones: f64) -> f64 {
        self.length * (1.0 - (-semitones / 12.0).exp2())
    }

    /// String 1 lies on the side from which the fingers come.
    fn string(&self, number: f64, x: f64) -> f64 {
        (2.5 - number) / 1.5 * self.half * (0.62 + x / self.length * 0.3)
    }

    fn draw(&self, canvas: &mut Canvas, markers: Option<[f64; 4]>) {
        let end = self.width - 26.0;
        let wide = self.half * (1.0 + end / self.length * 0.5);
        canvas.area(
            Class::Wood,
            &[
                Point::new(-22.0, -self.half * 0.9),
                Point::new(0.0, -self.half),
                Point::new(0.0, self.half),
                Point::new(-22.0, self.half * 0.9),
            ],
        );
        canvas.area(
            Class::Board,
            &[Point::new(0.0, -self.half), Point::new(end, -wide), Point::new(end, wide), Point::new(0.0, self.half)],
        );
        canvas.area(
            Class::Ferrule,
            &[
                Point::new(-2.5, -self.half),
                Point::new(2.5, -self.half),
                Point::new(2.5, self.half),
                Point::new(-2.5, self.half),
            ],
        );
        for semitones in markers.into_iter().flatten() {
            let (x, half) = (self.along(semitones), self.half * (1.0 + self.along(semitones) / self.length * 0.5));
            canvas.area(
                Class::Marker,
                &[
                    Point::new(x - 1.6, -half),
                    Point::new(x + 1.6, -half),
                    Point::new(x + 1.6, half),
                    Point::new(x - 1.6, half),
                ],
            );
        }
        for number in [1.0, 2.0, 3.0, 4.0] {
            let (near, far) =
                (Point::new(-20.0, self.string(number, -20.0)), Point::new(end, self.string(number, end)));
            canvas.put(
                Class::Hair,
                limb(&[near, far], &[0.35 + number * 0.12, 0.35 + number * 0.12], [End::Cut, End::Cut]),
            );
        }
    }
}

impl LeftHand {
    pub(crate) fn canvas(&self, instrument: Instrument) -> Canvas {
        let board = Board::of(instrument);
        let mut canvas = Canvas::new(board.width, 146.0);
        canvas.origin(24.0, 42.0, 0.0);
        let places = [self.one, self.two, self.three, self.four].map(|semitones| board.along(semitones));
        let right = match instrument {
            Instrument::Violin | Instrument::Viola => [2.0, 4.0, 5.0, 7.0],
            Instrument::Cello => [2.0, 3.0, 4.0, 5.0],
            Instrument::Bass => [2.0, 3.0, 3.0, 4.0],
        };
        // The thumb shows beyond the far edge.
        let thumb = Point::new(board.along(self.thumb), -board.half - 3.0);
        let ends = [End::Round, End::Round];
        canvas.put(Class::Ghost, limb(&[thumb + Vec2::new(0.0, 20.0), thumb], &[8.5, 7.2], ends));
        board.draw(&mut canvas, (self.markers == "tapes").then_some(right));
        canvas.anchor(Part::Thumb, thumb - Vec2::new(0.0, 5.0));

        let middle = f64::midpoint(places[0], places[3]);
        let apart = ((places[3] - places[0]) / 3.0).clamp(15.5, 17.5);
        let away = board.half + 33.0 + self.drop;
        let tilt = self.turn.to_radians().tan() * 0.35;
        let roots =
            [-1.5, -0.5, 0.5, 1.5].map(|step: f64| Point::new(middle - 4.0 + step * apart, away + step * apart * tilt));
        let wrist = Point::new(middle - 10.0, 146.0 - 42.0 - 6.0);
        let top = canvas.frame().y1 + 20.0;
        canvas.melt(
            Class::Limb,
            [
                limb(&[roots[0], roots[1], roots[2], roots[3]], &[10.5, 11.0, 10.5, 9.5], ends),
                limb(&[roots[0], Point::new(wrist.x - 5.0, top)], &[10.5, 19.0], [End::Round, End::Cut]),
                limb(&[roots[3], Point::new(wrist.x + 9.0, top)], &[9.5, 19.0], [End::Round, End::Cut]),
                limb(&[roots[1], Point::new(wrist.x, top)], &[12.0, 22.0], [End::Round, End::Cut]),
                limb(&[roots[2], Point::new(wrist.x + 4.0, top)], &[12.0, 22.0], [End::Round, End::Cut]),
            ],
        );
        let down = self.down.round();
        for at in [3, 2, 1, 0] {
            let number = [1.0, 2.0, 3.0, 4.0][at];
            let pressed = if self.across == "a string each" {
                true
            } else if self.others == "kept" {
                number <= down
            } else {
                (number - down).abs() < 0.5
            };
            let pressed = pressed && (number - self.single.round()).abs() > 0.5;
            let string = if self.across == "a string each" { number } else { self.string.round() };
            let on = Point::new(places[at], board.string(string, places[at]));
            let bones = &FINGERS[at];
            let radius = bones.radii[3] * 0.92;
            let tip = on
                + Vec2::new(0.0, radius * 0.55 - self.pad)
                + if pressed { Vec2::ZERO } else { Vec2::new(-self.lift * 0.2, self.lift * 0.9 + 3.0) };
            let long = if at == 3 { self.stretch } else { 0.0 };
            let root = roots[at] + Vec2::new(-long, long * 0.4);
            let finger = Finger {
                joints: vec![root, root.lerp(tip, 0.45), root.lerp(tip, 0.78), tip],
                lengths: Vec::new(),
                radii: vec![bones.radii[0], bones.radii[1], bones.radii[2], radius],
            };
            canvas.over_the_palm(&finger);
            finger.nail_above(&mut canvas);
            if !pressed && self.lift > 12.0 {
                // Its shadow on the string, where it would land.
                canvas.disc(Class::Ghost, on, 3.2);
            }
            if pressed {
                canvas.touch(FINGER_PARTS[at], Place::String, on, finger.beside(on));
            } else {
                canvas.anchor(FINGER_PARTS[at], tip);
            }
        }
        canvas.anchor(Part::Knuckles, roots[1].lerp(roots[2], 0.5));
        canvas.anchor(Part::Palm, roots[1].lerp(wrist, 0.5));
        canvas.anchor(Part::Wrist, wrist);
        if self.slide == "shown" {
            let y = -board.half - 16.0;
            canvas.arrow(Point::new(middle, y), Point::new(middle - 34.0, y));
            canvas.arrow(Point::new(middle, y), Point::new(middle + 34.0, y));
        }
        if self.squeeze > 20.0 {
            super::bow_hand::pressure(&mut canvas, Point::new(places[1], -board.half - 2.0), -90.0);
        }
        for (at, word) in [LabelWord::One, LabelWord::Two, LabelWord::Three, LabelWord::Four].into_iter().enumerate() {
            canvas.label(word, roots[at].lerp(Point::new(places[at], 0.0), 0.22));
        }
        canvas.label(LabelWord::LeftHand, Point::new(board.width - 60.0, -board.half - 16.0));
        canvas
    }
}
