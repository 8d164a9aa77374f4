//! A reading that is asked about, in words.

use ironseat_core::quantity::Millimetres;
use ironseat_core::quantity::Units;
use ironseat_core::quantity::show as fmt;
use ironseat_core::reckon::shown;
use ironseat_core::sheet::{Reading, Slip};

/// What a place would ask instead of keeping a reading: the question, what was probably meant, and whether a person may
/// insist. `unit` is `mm` or `um`.
pub fn asked_about(a: &Reading, unit: &str, units: Units) -> (String, String, bool) {
    let q = of_act(a, if unit == "um" { "v_um" } else { "v_mm" }, units);
    (q.sentence, q.meant_label, q.can_insist)
}

/// A question the cell asks instead of storing.
pub struct AskView {
    pub sentence: String,
    /// Offered instead.
    pub meant: String,
    pub meant_label: String,
    /// The typed value may be stored if the person is sure.
    pub can_insist: bool,
}

/// What a place asks instead of storing.
pub fn of_act(a: &Reading, field: &str, units: Units) -> AskView {
    let small = field.ends_with("_um");
    let mm = |v: f64| {
        let (number, unit) = shown(field, if small { v * 1000.0 } else { v }, units);
        format!("{number} {unit}")
    };
    let none = AskView { sentence: String::new(), meant: String::new(), meant_label: String::new(), can_insist: false };
    match a {
        Reading::DidYouMean { typed, meant, .. } if small => AskView {
            sentence: format!(
                "{} is less than a dial shows: was it typed in the larger unit? Not stored.",
                mm(typed.get())
            ),
            meant: format!("{:.6} mm", meant.get()),
            meant_label: format!("It is {}", mm(meant.get())),
            can_insist: false,
        },
        Reading::FarOff { typed, nominal } => AskView {
            sentence: format!(
                "{} is far from {}. Is it this place, and is the instrument zeroed? Not stored yet.",
                mm(typed.get()),
                mm(nominal.get())
            ),
            can_insist: true,
            ..none
        },
        other => of_seat(other, units),
    }
}

pub fn of_seat(a: &Reading, units: Units) -> AskView {
    let size = |v: Millimetres| fmt::join(fmt::size(v, Millimetres::of(0.0001), units));
    match a {
        Reading::DidYouMean { typed, meant, factor } => {
            let slip = if (*factor - 25.4).abs() < 0.1 || (factor - 1.0 / 25.4).abs() < 0.01 {
                "a mix-up of inches and millimetres"
            } else {
                "a slip of the decimal point"
            };
            AskView {
                sentence: format!(
                    "{} is far from what this cell expects; it looks like {slip}. Not stored.",
                    size(*typed)
                ),
                meant: format!("{:.6} mm", meant.get()),
                meant_label: format!("It is {}", size(*meant)),
                can_insist: false,
            }
        }
        Reading::Perhaps { typed, meant, slip } => AskView {
            sentence: match slip {
                Slip::OneTurn => {
                    format!(
                        "{} is one turn of the thimble away. Look at the barrel again. Not stored yet.",
                        size(*typed)
                    )
                }
                Slip::LastDigits => format!(
                    "{} is no size of this land: are these the last digits, counted from the nominal? Not stored yet.",
                    size(*typed)
                ),
            },
            meant: format!("{:.6} mm", meant.get()),
            meant_label: format!("It is {}", size(*meant)),
            can_insist: *slip == Slip::OneTurn,
        },
        Reading::FarOff { typed, nominal } => AskView {
            sentence: format!(
                "{} is {} away from {}. Is it this land, and is the instrument zeroed? Not stored yet.",
                size(*typed),
                size(Millimetres::new((typed.get() - nominal.get()).abs()).unwrap_or_default()),
                size(*nominal)
            ),
            meant: String::new(),
            meant_label: String::new(),
            can_insist: true,
        },
        Reading::Value(_) => {
            AskView { sentence: String::new(), meant: String::new(), meant_label: String::new(), can_insist: false }
        }
    }
}
