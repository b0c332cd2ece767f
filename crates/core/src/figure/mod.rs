//! Drawn hands, arms, bodies and instruments: what a hold looks like, made from numbers.
//!
//! This module **is** a few parts that bend (fingers, thumbs, palms, arms, bodies), the four instruments and their bows, and
//! twelve views that put them together: a view and its numbers come to a [`Figure`], shapes in millimetres of the real thing.
//! It **never** knows a colour, a font, a text or what is right for whom: the page's theme and the paper's palette colour the
//! classes, and `craft::drawings` says which numbers a checkpoint, an option, a slip or a drill's step sets.

mod bow;
mod canvas;
mod clip;
mod contrast;
mod hand;
mod limb;
mod parameters;
mod part;
mod people;
mod shape;
mod spec;
mod view;
mod views;
mod wood;

pub use contrast::{becoming, picture};
pub use parameters::{Parameter, Range, Setting, Settings};
pub use part::{Part, Place};
pub use shape::{Class, Figure, Label, LabelWord, Shape, Touch};
pub use spec::{FigureFault, FigureSpec};
pub use view::View;
