//! An entry of a chain: its text, its hash, and how a chain is followed to its head.

use crate::chain::digests::Fault;
use chrono::NaiveDateTime;
use sha2::{Digest as _, Sha256};

/// Hash before the first entry.
pub const GENESIS: &str = "0000000000000000000000000000000000000000000000000000000000000000";

/// What a verification found.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Verdict {
    /// Every entry follows from the one before, and every row is what the entries say.
    Whole {
        /// Number of entries.
        entries: usize,
        /// Hash of the last.
        head: String,
        /// What is odd and breaks nothing: a clock that was set back.
        remarks: Vec<String>,
    },
    /// The chain is whole, and rows are not what it says.
    Changed {
        /// Each of them.
        rows: Vec<Fault>,
    },
    /// The chain breaks here.
    Broken {
        /// First entry that does not follow.
        seq: i32,
        /// What is wrong with it.
        why: String,
    },
}

impl Verdict {
    /// What is odd and breaks nothing.
    #[must_use]
    pub fn remarks(&self) -> &[String] {
        match self {
            Self::Whole { remarks, .. } => remarks,
            Self::Changed { .. } | Self::Broken { .. } => &[],
        }
    }
    /// For a page: how many entries, and the beginning of the head's hash; else what is wrong.
    #[must_use]
    pub fn short(&self) -> String {
        match self {
            Self::Whole { entries, head, .. } => {
                let entry = if *entries == 1 { "entry" } else { "entries" };
                format!("{entries} {entry}, chain and rows whole, head {}", &head[..16])
            }
            other => other.words(),
        }
    }
    /// As a sentence, whichever chain it is about.
    #[must_use]
    pub fn words(&self) -> String {
        match self {
            Self::Whole { entries: 1, head, .. } => format!("whole, 1 entry, {head}"),
            Self::Whole { entries, head, .. } => format!("whole, {entries} entries, {head}"),
            Self::Broken { seq, why } => format!("broken at entry {seq}: {why}"),
            Self::Changed { rows } => {
                let first = rows.iter().take(3).map(Fault::to_string).collect::<Vec<_>>().join("; ");
                if rows.len() > 3 { format!("{first}; and {} more", rows.len() - 3) } else { first }
            }
        }
    }
    /// Nothing is wrong.
    #[must_use]
    pub fn whole(&self) -> bool {
        matches!(self, Self::Whole { .. })
    }
}

/// What an entry of a chain says.
pub(crate) struct Text<'a> {
    /// The chain: id of a rebuild, or name of a chain of the shop.
    pub(crate) chain: &'a str,
    pub(crate) seq: i32,
    pub(crate) at: NaiveDateTime,
    pub(crate) person: &'a str,
    pub(crate) kind: &'a str,
    pub(crate) body: &'a str,
    pub(crate) bound: &'a str,
}

/// Hash of an entry of a chain. Lengths are part of the text, so that no two entries can be written as one.
pub(crate) fn hash(prev: &str, t: &Text) -> String {
    let Text { chain, seq, at, person, kind, body, bound } = t;
    let mut text =
        format!("{prev}|{chain}|{seq}|{}|{person}|{kind}|{}|{body}", at.and_utc().timestamp_micros(), body.len());
    // Entries from before rows were bound carry none.
    if !bound.is_empty() {
        text += &format!("|{}|{bound}", bound.len());
    }
    hex::encode(Sha256::digest(text.as_bytes()))
}

/// An entry as its chain is followed.
pub(crate) struct Link<'a> {
    pub(crate) seq: i32,
    pub(crate) at: NaiveDateTime,
    pub(crate) prev: &'a str,
    pub(crate) hash: &'a str,
    /// Hash of what it says.
    pub(crate) again: String,
}

/// Follows a chain to its head.
pub(crate) fn follow<'a>(links: impl Iterator<Item = Link<'a>>, seq: i32, head: &str) -> Verdict {
    let (mut prev, mut entries, mut remarks) = (GENESIS.to_owned(), 0, Vec::new());
    let mut last: Option<NaiveDateTime> = None;
    for e in links {
        entries += 1;
        let broken = |why: &str| Verdict::Broken { seq: e.seq, why: why.into() };
        if e.seq != entries {
            return broken("an entry before it is missing");
        }
        if e.prev != prev {
            return broken("it does not follow from the entry before");
        }
        if e.again != e.hash {
            return broken("its text is not what was hashed");
        }
        if last.is_some_and(|l| e.at < l) {
            remarks.push(format!("the clock was set back before entry {}", e.seq));
        }
        last = Some(e.at);
        e.hash.clone_into(&mut prev);
    }
    if seq != entries || head != prev {
        return Verdict::Broken { seq: entries + 1, why: "entries at the end are missing".into() };
    }
    Verdict::Whole { entries: usize::try_from(entries).unwrap_or(0), head: prev, remarks }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn chain(seconds: &[i64]) -> (Vec<(i32, NaiveDateTime, String, String)>, String) {
        let mut prev = GENESIS.to_owned();
        let at = |s: i64| chrono::DateTime::from_timestamp(1_790_000_000 + s, 0).unwrap_or_default().naive_utc();
        let mut out = Vec::new();
        for (seq, s) in (1..).zip(seconds) {
            let text =
                Text { chain: "people", seq, at: at(*s), person: "Ines", kind: "changed", body: "so", bound: "" };
            let next = hash(&prev, &text);
            out.push((seq, at(*s), std::mem::replace(&mut prev, next.clone()), next));
        }
        (out, prev)
    }

    fn followed(list: &[(i32, NaiveDateTime, String, String)], seq: i32, head: &str) -> Verdict {
        let links =
            list.iter().map(|(seq, at, prev, hash)| Link { seq: *seq, at: *at, prev, hash, again: hash.clone() });
        follow(links, seq, head)
    }

    #[test]
    fn a_clock_that_was_set_back_is_remarked_and_breaks_nothing() {
        let (list, head) = chain(&[0, 5, 5, 2, 9]);
        let Verdict::Whole { entries, remarks, .. } = followed(&list, 5, &head) else { panic!("whole") };
        assert_eq!((entries, remarks), (5, vec!["the clock was set back before entry 4".to_owned()]));
        let (list, head) = chain(&[0, 5, 5, 6]);
        assert!(matches!(followed(&list, 4, &head), Verdict::Whole { remarks, .. } if remarks.is_empty()));
    }

    #[test]
    fn a_chain_breaks_where_it_was_cut_or_exchanged() {
        let (list, head) = chain(&[0, 1, 2, 3]);
        let (other, _) = chain(&[0, 7, 8]);
        let at = |v: Verdict| match v {
            Verdict::Broken { seq, why } => format!("{seq}: {why}"),
            other => format!("{other:?}"),
        };
        assert_eq!(at(followed(&list[..3], 4, &head)), "4: entries at the end are missing");
        assert_eq!(at(followed(&list[1..], 4, &head)), "2: an entry before it is missing");
        let mixed = [list[0].clone(), other[1].clone(), list[2].clone(), list[3].clone()];
        assert_eq!(at(followed(&mixed, 4, &head)), "3: it does not follow from the entry before");
    }
}
