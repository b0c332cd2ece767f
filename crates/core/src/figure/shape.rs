//! What a drawing is made of: outlines with a class, dots where something touches, labels.

use kurbo::{Affine, BezPath, PathEl, Point, Rect, Shape as _};
use serde::{Serialize, Serializer};

use super::part::{Part, Place};
use crate::worded::worded;

worded! {
    /// What a shape stands for; the theme or the palette gives it its look.
    Class {
        /// Wood of an instrument, a stick, a chair.
        Wood = "wood",
        /// The fingerboard and other black wood.
        Board = "board",
        /// A string.
        String = "string",
        /// A string that is pressed or sounds.
        Sounding = "sounding",
        /// Hair of a bow.
        Hair = "hair",
        /// The frog.
        Frog = "frog",
        /// Metal.
        Ferrule = "ferrule",
        /// A hand, an arm, a body: outlines of one shape melt into one.
        Limb = "limb",
        /// Skin without an outline: it lets a finger grow out of a palm.
        Skin = "skin",
        /// A nail, a crease, a fold: a fine line.
        Nail = "nail",
        /// What is soft: a sponge, a pad, rosin.
        Soft = "soft",
        /// A marker on the fingerboard.
        Marker = "marker",
        /// A hand, an arm, a body as it was before: behind what it became, its outlines melted too.
        Faded = "faded",
        /// What is behind, or how it was before: a fine line without a filling.
        Ghost = "ghost",
        /// Where it touches.
        Touch = "touch",
        /// The way that it goes: an arrow.
        Good = "good",
        /// What becomes otherwise: a lozenge.
        Amiss = "amiss",
        /// A line to measure by.
        Guide = "guide",
    }
}

worded! {
    /// A label that a drawing needs so that it is not mistaken.
    LabelWord {
        /// A left hand.
        LeftHand = "left-hand",
        /// A right hand.
        RightHand = "right-hand",
        /// Where the bridge is.
        Bridge = "bridge",
        /// Where the fingerboard is.
        Board = "board",
        /// Where the nut is.
        Nut = "nut",
        /// The first finger.
        One = "1",
        /// The second finger.
        Two = "2",
        /// The third finger.
        Three = "3",
        /// The fourth finger.
        Four = "4",
    }
}

/// A word at a point.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct Label {
    /// Which.
    pub word: LabelWord,
    /// Its middle, in millimetres from the left.
    pub x: f64,
    /// Its middle, in millimetres from the top.
    pub y: f64,
}

/// One outline.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct Shape {
    /// What it stands for.
    pub class: Class,
    /// The outline as the `d` of an SVG path, in millimetres.
    #[serde(serialize_with = "as_data")]
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub d: BezPath,
}

/// Where a part touches something.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct Touch {
    /// What touches.
    pub part: Part,
    /// What it touches.
    pub place: Place,
    /// Millimetres from the left.
    pub x: f64,
    /// Millimetres from the top.
    pub y: f64,
    /// Millimetres between the skin and what it touches; drawings keep it under 0.5.
    #[serde(skip)]
    pub gap: f64,
}

/// A drawing: what is further back comes first.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct Figure {
    /// Width in millimetres.
    pub width: f64,
    /// Height in millimetres.
    pub height: f64,
    /// How thick a line is, in millimetres.
    pub line: f64,
    /// The outlines.
    pub shapes: Vec<Shape>,
    /// What touches what.
    pub touches: Vec<Touch>,
    /// Words that keep it from being mistaken.
    pub labels: Vec<Label>,
    /// The joints of each finger, thumb and arm with the length that each piece has: for those who check the drawing.
    #[serde(skip)]
    pub chains: Vec<(Vec<Point>, Vec<f64>)>,
}

impl Figure {
    /// The same as in a mirror: left becomes right.
    #[must_use]
    pub fn mirrored(&self) -> Self {
        let across = Affine::new([-1.0, 0.0, 0.0, 1.0, self.width, 0.0]);
        let over = |x: f64| tenths(self.width - x);
        let mut figure = self.clone();
        for shape in &mut figure.shapes {
            shape.d.apply_affine(across);
            shape.d = rounded(&shape.d);
        }
        for touch in &mut figure.touches {
            touch.x = over(touch.x);
        }
        for label in &mut figure.labels {
            label.x = over(label.x);
        }
        for point in figure.chains.iter_mut().flat_map(|(joints, _)| joints) {
            *point = across * *point;
        }
        figure
    }

    /// The rectangle around everything that is drawn, line not counted.
    #[must_use]
    pub fn bounds(&self) -> Rect {
        let mut boxes = self.shapes.iter().map(|shape| shape.d.bounding_box());
        let first = boxes.next().unwrap_or_default();
        boxes.fold(first, |all, one| all.union(one))
    }
}

/// To a tenth of a millimetre: finer than anybody sees, and the same numbers make the same text everywhere.
pub(super) fn tenths(value: f64) -> f64 {
    // Adding 0 turns -0 into 0.
    (value * 10.0).round() / 10.0 + 0.0
}

/// Every point to a tenth of a millimetre.
pub(super) fn rounded(path: &BezPath) -> BezPath {
    let point = |p: Point| Point::new(tenths(p.x), tenths(p.y));
    path.elements()
        .iter()
        .map(|element| match *element {
            PathEl::MoveTo(p) => PathEl::MoveTo(point(p)),
            PathEl::LineTo(p) => PathEl::LineTo(point(p)),
            PathEl::QuadTo(a, b) => PathEl::QuadTo(point(a), point(b)),
            PathEl::CurveTo(a, b, c) => PathEl::CurveTo(point(a), point(b), point(c)),
            PathEl::ClosePath => PathEl::ClosePath,
        })
        .collect()
}

fn as_data<S: Serializer>(path: &BezPath, serializer: S) -> Result<S::Ok, S::Error> {
    serializer.serialize_str(&path.to_svg())
}
