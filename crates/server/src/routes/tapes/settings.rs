//! Which field a fault of marker settings or of a layout is about.

use bright_row_core::tapes::layout::LayoutFault;
use bright_row_core::tapes::settings::SettingsFault;

use crate::error::FieldError;

/// The field of marker settings that a fault is about.
pub(crate) fn settings_field(fault: SettingsFault) -> FieldError {
    let field = match fault {
        SettingsFault::Strip => "stripMm",
        SettingsFault::Offset => "offsetMm",
        SettingsFault::Tolerance => "toleranceCents",
        SettingsFault::A4 => "a4Hz",
    };
    FieldError::new(field, fault.to_string())
}

/// The field of a layout that a fault is about.
pub(crate) fn layout_field(fault: &LayoutFault) -> FieldError {
    let field = match fault {
        LayoutFault::Settings(fault) => return settings_field(*fault),
        LayoutFault::Length => "stringLengthMm",
        LayoutFault::Finger(..) | LayoutFault::Twice(_) => "fingers",
        LayoutFault::Outside(..) | LayoutFault::Order(..) | LayoutFault::NotAsked(_) => "measured",
    };
    FieldError::new(field, fault.to_string())
}
