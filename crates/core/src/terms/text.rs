//! What may be written, and how much of it: the one list that checks, forms and columns go by.

use crate::refusal::{Refusal, Result, expect};

/// What a text may be. Forms say [`most`](Text::most) as their longest, checks [`read`](Text::read) it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Text {
    /// Fewest characters.
    pub least: usize,
    /// Most characters.
    pub most: usize,
    /// It may go over several lines.
    pub lines: bool,
}

/// On one line.
const fn line(least: usize, most: usize) -> Text {
    Text { least, most, lines: false }
}
/// Sentences, over as many lines as they like.
const fn words(least: usize, most: usize) -> Text {
    Text { least, most, lines: true }
}

/// Name of a person, as it stands on certificates.
pub const PERSON: Text = line(1, 120);
/// The other one of two people at a step.
pub const SECOND: Text = line(2, 80);
/// Sign-in name.
pub const HANDLE: Text = line(1, 40);
/// Password: as short only if nobody tries it first.
pub const PASSWORD: Text = line(8, 200);
/// Password of any words.
pub const PASSWORD_OF_ANY_WORDS: Text = line(12, 200);
/// Code for signing in the first time, as it may be typed: with blanks and hyphens.
pub const CODE: Text = line(1, 20);
/// Name of the shop.
pub const SHOP: Text = line(1, 120);
/// Time zone of the shop.
pub const ZONE: Text = line(1, 40);
/// Name of a customer.
pub const CUSTOMER: Text = line(1, 160);
/// How a customer is reached.
pub const CONTACT: Text = words(0, 400);
/// What a rebuild is called.
pub const TITLE: Text = line(1, 160);
/// Number of a rebuild.
pub const NUMBER: Text = line(1, 20);
/// Serial number of a machine or an instrument.
pub const SERIAL: Text = line(0, 60);
/// Name of an instrument.
pub const INSTRUMENT: Text = line(2, 120);
/// Why an instrument is put away.
pub const PUT_AWAY: Text = line(3, 160);
/// What a key for programs is for.
pub const TOKEN: Text = line(1, 80);
/// What is looked for in a list.
pub const SOUGHT: Text = line(0, 60);
/// Name of a machine type or of a part on the drawing board, and of a bolt pattern.
pub const DRAWN: Text = line(1, 80);
/// Any name in a build sheet.
pub const SHEET_NAME: Text = line(0, 120);
/// Any other text in a build sheet.
pub const SHEET_TEXT: Text = words(0, 400);
/// Id in a build sheet: acts are named after it.
pub const ID: Text = line(1, 40);
/// Key of a machine type.
pub const KEY: Text = line(1, 60);
/// What a pinned computation is about.
pub const PIN_ABOUT: Text = line(0, 120);
/// A number with its unit: no size is written in more characters.
pub const FIGURE: Text = line(1, 60);
/// Numbers of a step as they are typed.
pub const MEASURED: Text = line(0, 120);
/// What was found before it came apart.
pub const FOUND: Text = words(0, 200);
/// What is said beside what was found.
pub const NOTE: Text = words(0, 400);
/// What was done to a part.
pub const REPAIR: Text = words(3, 200);
/// What happened: to a reading that strays, to a seat that went wrong.
pub const HAPPENED: Text = words(5, 300);
/// Why a part meets its fate.
pub const FATE: Text = words(5, 300);
/// Why a call is overruled.
pub const OVERRULE: Text = words(5, 400);
/// Why a number or a facing stays against the build sheet.
pub const AGAINST: Text = words(10, 400);
/// Why a rebuild is released with steps open.
pub const RELEASE: Text = words(10, 300);
/// Why a signed seat is read again.
pub const AGAIN: Text = words(5, 300);
/// Why a house rule is set beyond what is usual.
pub const RULE: Text = words(0, 400);

/// Signs that nobody sees and that turn a line of writing round: one name would look like another.
pub(crate) fn unseen(c: char) -> bool {
    c.is_control() && c != '\n'
        || matches!(c, '\u{200b}'..='\u{200f}' | '\u{202a}'..='\u{202e}' | '\u{2060}'..='\u{2069}' | '\u{feff}' | '\u{fffd}')
}

impl Text {
    /// Whether it is neither too short nor too long, without the blanks around it.
    #[must_use]
    pub fn fits(self, text: &str) -> bool {
        (self.least..=self.most).contains(&text.trim().chars().count())
    }
    /// `5 to 300 characters`, `up to 80 characters`.
    #[must_use]
    pub fn range(self) -> String {
        match self.least {
            0 | 1 => format!("up to {} characters", self.most),
            n => format!("{n} to {} characters", self.most),
        }
    }
    /// The text as it is kept: without blanks around it, ends of lines as one sign.
    ///
    /// ```
    /// use ironseat_core::terms::text;
    /// let why = |said| text::PUT_AWAY.read("why", said, |range| format!("expected why, in {range}"));
    /// assert_eq!(why("  dropped ")?, "dropped");
    /// assert_eq!(why("-").unwrap_err().message, "expected why, in 3 to 160 characters");
    /// assert_eq!(why("dropped\non the floor").unwrap_err().message, "expected words on one line");
    /// assert!(why("drop\u{202e}ped").unwrap_err().message.contains("cannot be seen"));
    /// # Ok::<(), ironseat_core::Refusal>(())
    /// ```
    ///
    /// # Errors
    /// The field with what was wanted, its range given, when it is too short or too long; signs that cannot be seen; lines where there is one.
    pub fn read(self, field: &str, text: &str, wanted: impl FnOnce(String) -> String) -> Result<String> {
        let text = text.trim().replace("\r\n", "\n").replace('\t', " ");
        if let Some(at) = text.chars().position(unseen) {
            let sign = text.chars().nth(at).map_or(0, u32::from);
            let words = format!("character {} of it cannot be seen (U+{sign:04X}): write it again", at + 1);
            return Err(Refusal::new(field, words));
        }
        if !self.fits(&text) {
            return Err(Refusal::new(field, wanted(self.range())));
        }
        expect(self.lines || !text.contains('\n'), field, "expected words on one line")?;
        Ok(text)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_kept_is_what_can_be_read() {
        let say = |text: &str| OVERRULE.read("reason", text, |_| "too short or too long".into()).map_err(|e| e.message);
        assert_eq!(say("  two lines,\r\nof a\tform ").unwrap(), "two lines,\nof a form");
        assert_eq!(say("why?").unwrap_err(), "too short or too long");
        assert_eq!(say(&"x".repeat(401)).unwrap_err(), "too short or too long");
        assert!(say(&"ü".repeat(400)).is_ok(), "characters are counted, not bytes");
        for odd in ["wri\u{200b}te", "\u{202e}write", "w\u{7}rite", "write\u{0}", "lone\rreturn"] {
            assert!(say(odd).unwrap_err().contains("cannot be seen"), "{odd:?}");
        }
        assert_eq!((OVERRULE.range(), SERIAL.range()), ("5 to 400 characters".into(), "up to 60 characters".into()));
    }
}
