//! What a step of a seat left behind, as it is kept in one line: a method, a temperature, and of a ring with two faces
//! which way it went on.

use crate::quantity::{Celsius, Units, show};
use crate::terms::{End, Method};

/// What is kept with a step that is done.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct StepLeft<'a> {
    /// Key of the method, or a temperature: `90 °C`.
    pub how: &'a str,
    /// The end it faces, where somebody said it.
    pub faces: Option<End>,
    /// Why it faces the other end than the build sheet says.
    pub reason: &'a str,
}

const FACES: &str = "faces end ";

impl<'a> StepLeft<'a> {
    /// From what is kept.
    ///
    /// ```
    /// use ironseat_core::{decide::StepLeft, terms::End};
    /// let kept = "heat, faces end B: the maker says so";
    /// let on = StepLeft::of(kept);
    /// assert_eq!((on.how, on.faces, on.reason), ("heat", Some(End::B), "the maker says so"));
    /// assert_eq!(on.kept(), kept);
    /// assert_eq!(StepLeft::of("90 °C").how, "90 °C");
    /// ```
    #[must_use]
    pub fn of(detail: &'a str) -> Self {
        let whole = Self { how: detail, ..Self::default() };
        let Some((how, rest)) = detail.split_once(FACES) else { return whole };
        let (end, reason) = rest.split_once(": ").unwrap_or((rest, ""));
        let Some(faces) = End::of(end) else { return whole };
        Self { how: how.strip_suffix(", ").unwrap_or(how), faces: Some(faces), reason }
    }

    /// As it is kept.
    #[must_use]
    pub fn kept(&self) -> String {
        let Some(end) = self.faces else { return self.how.to_owned() };
        let how = if self.how.is_empty() { String::new() } else { format!("{}, ", self.how) };
        let why = if self.reason.is_empty() { String::new() } else { format!(": {}", self.reason) };
        format!("{how}{FACES}{}{why}", end.letter())
    }

    /// As it is said, in the reader's degrees and without the reason.
    #[must_use]
    pub fn says(&self, units: Units) -> String {
        let read = || self.how.strip_suffix(" °C").and_then(|v| v.parse().ok()).and_then(|v| Celsius::new(v).ok());
        let degrees = || read().map_or_else(|| self.how.to_owned(), |c| show::join(show::temperature(c, units)));
        let how = Method::of(self.how).map_or_else(degrees, |m| m.words().to_owned());
        match self.faces {
            None => how,
            Some(end) if how.is_empty() => format!("{FACES}{}", end.letter()),
            Some(end) => format!("{how}, {FACES}{}", end.letter()),
        }
    }
}
