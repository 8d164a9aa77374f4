//! One declaration a computation. What it takes and gives is written down once, as two structs with a line for each
//! field; schema, command line, error fields, what was assumed, the written contract and the forms follow from it, and
//! a misspelt field does not compile.
//!
//! ```text
//! computation! {
//!     /// What it is for, one sentence.
//!     wrench = "torque.extension";
//!     formula "setting = T L/(L + E cos(angle))";
//!     source "levers";
//!     holds "pull at the middle of the grip";
//!     takes {
//!         /// wanted torque
//!         torque_nm: Positive;
//!         /// between them
//!         [assumed] angle_deg: Number = 0.0;
//!     }
//!     gives {
//!         /// set the wrench to
//!         setting_nm: f64;
//!     }
//!     limits { "said beside an answer outside it" => |i, a| a.setting_nm < 0.2 * i.torque_nm; }
//!     example r#"{"torque_nm": 100}"#;
//! }
//! fn wrench(i: &wrench::Takes) -> Result<wrench::Gives> { .. }
//! ```
//!
//! Brackets before a field hold the words that it may be, and `assumed` where its default matters to the answer.

use super::input::{Field, FieldKind, material};
use super::output::{Gives, Output};
use crate::fit::Material;
use crate::quantity::{Celsius, Grams, Megapascals, Micrometres, Millimetres, Newtons, Seconds};
use crate::refusal::{Refusal, Result};
use serde_json::{Map, Value, json};
use std::collections::BTreeMap;

/// What a field takes, as a type: its kind in the contract and what it is in code.
pub(crate) trait Takes {
    /// In code.
    type Out;
    /// In the contract.
    const KIND: FieldKind;
    /// It may be left out.
    const OPTIONAL: bool = false;
    /// From a value whose kind was checked.
    fn take(v: &Value) -> Option<Self::Out>;
    /// What stands for it when it is left out; none where it is needed.
    fn missing() -> Option<Self::Out> {
        None
    }
}

/// A default: what it is, and how it is said.
pub(crate) trait Fallback<M: Takes> {
    /// What it is.
    fn give(self) -> M::Out;
    /// As said.
    fn said(&self) -> String;
}

/// An object with fields of its own.
pub(crate) trait Record: Sized {
    /// Its fields.
    const FIELDS: &'static [Field];
    /// From an object whose fields were checked.
    ///
    /// # Errors
    /// A field that is missing.
    fn read(map: &Map<String, Value>) -> Result<Self>;
}

macro_rules! numbers {
    ($($(#[$doc:meta])* $name:ident),*) => { $(
        $(#[$doc])*
        pub(crate) enum $name {}
        impl Takes for $name {
            type Out = f64;
            const KIND: FieldKind = FieldKind::$name;
            fn take(v: &Value) -> Option<f64> { v.as_f64() }
        }
        impl Fallback<$name> for f64 {
            fn give(self) -> f64 { self }
            fn said(&self) -> String { self.to_string() }
        }
    )* };
}
numbers!(
    /// A finite number.
    Number,
    /// A number above 0.
    Positive,
    /// A number of 0 or more.
    NotNegative
);

macro_rules! simple {
    ($($(#[$doc:meta])* $name:ident -> $out:ty, $kind:expr, $take:expr;)*) => { $(
        $(#[$doc])*
        pub(crate) enum $name {}
        impl Takes for $name {
            type Out = $out;
            const KIND: FieldKind = $kind;
            fn take(v: &Value) -> Option<$out> { let take: fn(&Value) -> Option<$out> = $take; take(v) }
        }
    )* };
}
fn list<T>(v: &Value, each: fn(&Value) -> Option<T>) -> Option<Vec<T>> {
    v.as_array()?.iter().map(each).collect()
}
fn text(v: &Value) -> Option<String> {
    v.as_str().map(str::to_owned)
}
simple!(
    /// True or false.
    Flag -> bool, FieldKind::Flag, Value::as_bool;
    /// Any text.
    Text -> String, FieldKind::Text, text;
    /// One of the words in brackets before the field.
    Word -> String, FieldKind::Text, text;
    /// A material of the table.
    Matter -> Material, FieldKind::Material, |v| material(v.as_str()?);
    /// A list of numbers.
    Numbers -> Vec<f64>, FieldKind::Numbers, |v| list(v, Value::as_f64);
    /// Rows of numbers.
    Grid -> Vec<Vec<f64>>, FieldKind::Grid, |v| list(v, |row| list(row, Value::as_f64));
    /// A list of texts.
    Texts -> Vec<String>, FieldKind::Texts, |v| list(v, text);
    /// A list of pairs of texts.
    Pairs -> Vec<(String, String)>, FieldKind::Pairs, |v| list(v, |p| Some((text(&p[0])?, text(&p[1])?)));
    /// Names with a number each, in the order of their names.
    Counts -> Vec<(String, f64)>, FieldKind::Counts, |v| v.as_object()?.iter().map(|(k, n)| Some((k.clone(), n.as_f64()?))).collect();
);

/// A whole number between two.
pub(crate) enum Whole<const LO: u64, const HI: u64> {}
impl<const LO: u64, const HI: u64> Takes for Whole<LO, HI> {
    type Out = u64;
    const KIND: FieldKind = FieldKind::Whole(LO, HI);
    fn take(v: &Value) -> Option<u64> {
        v.as_f64().map(|n| n as u64)
    }
}
/// A list of objects.
pub(crate) struct List<T>(std::marker::PhantomData<T>);
impl<T: Record> Takes for List<T> {
    type Out = Vec<T>;
    const KIND: FieldKind = FieldKind::Objects(T::FIELDS);
    fn take(v: &Value) -> Option<Vec<T>> {
        v.as_array()?.iter().map(|x| T::read(x.as_object()?).ok()).collect()
    }
}
/// One object.
pub(crate) struct One<T>(std::marker::PhantomData<T>);
impl<T: Record> Takes for One<T> {
    type Out = T;
    const KIND: FieldKind = FieldKind::Object(T::FIELDS);
    fn take(v: &Value) -> Option<T> {
        T::read(v.as_object()?).ok()
    }
}
impl<M: Takes> Takes for Option<M> {
    type Out = Option<M::Out>;
    const KIND: FieldKind = M::KIND;
    const OPTIONAL: bool = true;
    fn take(v: &Value) -> Option<Self::Out> {
        M::take(v).map(Some)
    }
    fn missing() -> Option<Self::Out> {
        Some(None)
    }
}

impl<const LO: u64, const HI: u64> Fallback<Whole<LO, HI>> for u64 {
    fn give(self) -> u64 {
        self
    }
    fn said(&self) -> String {
        self.to_string()
    }
}
impl Fallback<Flag> for bool {
    fn give(self) -> bool {
        self
    }
    fn said(&self) -> String {
        self.to_string()
    }
}
impl Fallback<Text> for &'static str {
    fn give(self) -> String {
        self.to_owned()
    }
    fn said(&self) -> String {
        if self.is_empty() { "empty".into() } else { (*self).to_owned() }
    }
}
impl Fallback<Word> for &'static str {
    fn give(self) -> String {
        self.to_owned()
    }
    fn said(&self) -> String {
        (*self).to_owned()
    }
}
impl Fallback<Matter> for Material {
    fn give(self) -> Self {
        self
    }
    fn said(&self) -> String {
        self.name().to_owned()
    }
}
/// Lists are empty when they are left out.
impl<M: Takes<Out = Vec<T>>, T> Fallback<M> for [T; 0] {
    fn give(self) -> Vec<T> {
        Vec::new()
    }
    fn said(&self) -> String {
        "none".into()
    }
}
/// A default that follows from other fields, in words; the computation knows it.
impl<M: Takes> Fallback<Option<M>> for &'static str {
    fn give(self) -> Option<M::Out> {
        None
    }
    fn said(&self) -> String {
        (*self).to_owned()
    }
}

/// What a result is, as a type.
pub(crate) trait Leaves {
    /// In the contract.
    const KIND: Gives;
    /// It may be null.
    const NULLABLE: bool = false;
    /// The JSON value; none when a number in it is not finite, so that no NaN is ever answered.
    fn leave(&self) -> Option<Value>;
}
/// An object of results.
pub(crate) trait Results {
    /// Its results.
    const OUTPUTS: &'static [Output];
    /// As an object.
    fn leave(&self) -> Option<Map<String, Value>>;
}

macro_rules! leaves {
    ($($t:ty => $kind:expr, $leave:expr;)*) => { $(impl Leaves for $t {
        const KIND: Gives = $kind;
        fn leave(&self) -> Option<Value> { let leave: fn(&Self) -> Option<Value> = $leave; leave(self) }
    })* };
}
fn finite(v: f64) -> Option<Value> {
    v.is_finite().then(|| json!(v))
}
leaves!(
    f64 => Gives::Number, |v| finite(*v);
    u64 => Gives::Number, |v| Some(json!(v));
    Vec<u64> => Gives::Numbers, |v| Some(json!(v));
    Millimetres => Gives::Number, |v| finite(v.0);
    Micrometres => Gives::Number, |v| finite(v.0);
    Newtons => Gives::Number, |v| finite(v.0);
    Megapascals => Gives::Number, |v| finite(v.0);
    Celsius => Gives::Number, |v| finite(v.0);
    Seconds => Gives::Number, |v| finite(v.0);
    Grams => Gives::Number, |v| finite(v.0);
    bool => Gives::Flag, |v| Some(json!(v));
    String => Gives::Text, |v| Some(json!(v));
    &'static str => Gives::Text, |v| Some(json!(v));
    crate::fit::designation::Seals => Gives::Text, |v| Some(json!(v));
    crate::fit::designation::BearingType => Gives::Text, |v| Some(json!(v));
    Vec<f64> => Gives::Numbers, |v| v.iter().map(|x| finite(*x)).collect::<Option<_>>().map(Value::Array);
    Vec<Micrometres> => Gives::Numbers, |v| v.iter().map(|x| finite(x.0)).collect::<Option<_>>().map(Value::Array);
    Vec<String> => Gives::Texts, |v| Some(json!(v));
    Vec<(String, String)> => Gives::Pairs, |v| Some(json!(v));
    BTreeMap<String, u64> => Gives::Counts, |v| Some(json!(v));
);
impl<T: Leaves> Leaves for Option<T> {
    const KIND: Gives = T::KIND;
    const NULLABLE: bool = true;
    fn leave(&self) -> Option<Value> {
        self.as_ref().map_or(Some(Value::Null), Leaves::leave)
    }
}

/// A name without the mark that lets a word of the language be one.
pub(crate) const fn plain(name: &'static str) -> &'static str {
    let b = name.as_bytes();
    if b.len() > 2 && b[0] == b'r' && b[1] == b'#' { name.split_at(2).1 } else { name }
}
/// A line of documentation without its first blank.
pub(crate) const fn line(doc: &'static str) -> &'static str {
    if doc.is_empty() || doc.as_bytes()[0] != b' ' { doc } else { doc.split_at(1).1 }
}
pub(crate) const fn takes_words(kind: FieldKind, words: &'static [&'static str]) -> FieldKind {
    if words.is_empty() { kind } else { FieldKind::Word(words) }
}
pub(crate) const fn gives_words(kind: Gives, words: &'static [&'static str]) -> Gives {
    if words.is_empty() { kind } else { Gives::Word(words) }
}
pub(crate) fn needed(name: &str) -> Refusal {
    Refusal::new(name, "this field is needed")
}

/// The struct of what is taken.
macro_rules! takes {
    ($(#[$about:meta])* $vis:vis struct $name:ident { $(
        #[doc = $doc:literal] $([$($mark:ident)? $($word:literal)*])? $field:ident : $ty:ty $(= $default:expr)? ;
    )* }) => {
        $(#[$about])*
        #[derive(Debug, Clone)]
        $vis struct $name { $( #[doc = $doc] $vis $field: <$ty as $crate::reckon::declare::Takes>::Out, )* }
        impl $crate::reckon::declare::Record for $name {
            const FIELDS: &'static [$crate::reckon::Field] = &[ $( $crate::reckon::Field {
                name: $crate::reckon::declare::plain(stringify!($field)),
                kind: $crate::reckon::declare::takes_words(<$ty as $crate::reckon::declare::Takes>::KIND, &[$($($word),*)?]),
                required: !<$ty as $crate::reckon::declare::Takes>::OPTIONAL $(&& { let _ = stringify!($default); false })?,
                estimate: false $($(|| { let _ = stringify!($mark); true })?)?,
                about: $crate::reckon::declare::line($doc),
                default: $crate::reckon::declare::default_of!($ty $(, $default)?),
            }, )* ];
            fn read(map: &serde_json::Map<String, serde_json::Value>) -> $crate::refusal::Result<Self> {
                Ok(Self { $( $field: {
                    let name = $crate::reckon::declare::plain(stringify!($field));
                    let given = map.get(name).filter(|v| !v.is_null());
                    given
                        .map_or_else(|| $crate::reckon::declare::absent!($ty $(, $default)?), |v| <$ty as $crate::reckon::declare::Takes>::take(v))
                        .ok_or_else(|| $crate::reckon::declare::needed(name))?
                }, )* })
            }
        }
    };
}
macro_rules! default_of {
    ($ty:ty) => {
        None
    };
    ($ty:ty, $default:expr) => {
        Some(|| $crate::reckon::declare::Fallback::<$ty>::said(&$default))
    };
}
macro_rules! absent {
    ($ty:ty) => {
        <$ty as $crate::reckon::declare::Takes>::missing()
    };
    ($ty:ty, $default:expr) => {
        Some($crate::reckon::declare::Fallback::<$ty>::give($default))
    };
}

/// The struct of what is given.
macro_rules! gives {
    ($(#[$about:meta])* $vis:vis struct $name:ident { $( #[doc = $doc:literal] $([$($word:literal)*])? $field:ident : $ty:ty ; )* }) => {
        $(#[$about])*
        #[derive(Debug, Clone)]
        $vis struct $name { $( #[doc = $doc] $vis $field: $ty, )* }
        impl $crate::reckon::declare::Results for $name {
            const OUTPUTS: &'static [$crate::reckon::Output] = &[ $( $crate::reckon::Output {
                name: $crate::reckon::declare::plain(stringify!($field)),
                kind: $crate::reckon::declare::gives_words(<$ty as $crate::reckon::declare::Leaves>::KIND, &[$($($word),*)?]),
                nullable: <$ty as $crate::reckon::declare::Leaves>::NULLABLE,
                about: $crate::reckon::declare::line($doc),
            }, )* ];
            fn leave(&self) -> Option<serde_json::Map<String, serde_json::Value>> {
                let mut map = serde_json::Map::new();
                $( map.insert(
                    $crate::reckon::declare::plain(stringify!($field)).to_owned(),
                    $crate::reckon::declare::Leaves::leave(&self.$field)?,
                ); )*
                Some(map)
            }
        }
        impl $crate::reckon::declare::Leaves for Vec<$name> {
            const KIND: $crate::reckon::Gives = $crate::reckon::Gives::Objects(<$name as $crate::reckon::declare::Results>::OUTPUTS);
            fn leave(&self) -> Option<serde_json::Value> {
                let each = |x| $crate::reckon::declare::Results::leave(x).map(serde_json::Value::Object);
                self.iter().map(each).collect::<Option<Vec<_>>>().map(serde_json::Value::Array)
            }
        }
    };
}

/// A computation; see the head of this module.
macro_rules! computation {
    (
        $(#[doc = $purpose:literal])+
        $module:ident = $name:literal;
        formula $formula:literal;
        source $source:literal;
        holds $holds:literal;
        takes { $($takes:tt)* }
        gives { $($gives:tt)* }
        $(limits { $( $words:literal => $broken:expr ; )* })?
        example $example:literal;
    ) => {
        $(#[doc = $purpose])+
        pub(crate) mod $module {
            #[allow(unused_imports)]
            use super::*;
            $crate::reckon::declare::takes! {
                /// What it takes.
                pub(crate) struct Takes { $($takes)* }
            }
            $crate::reckon::declare::gives! {
                /// What it gives.
                pub(crate) struct Gives { $($gives)* }
            }
            const LIMITS: &[(&str, fn(&Takes, &Gives) -> bool)] = &[ $( $( ($words, $broken), )* )? ];
            /// In the registry.
            pub(crate) static ENTRY: $crate::reckon::Entry = $crate::reckon::Entry {
                name: $name,
                purpose: $crate::reckon::declare::line(concat!($($purpose),+)),
                formula: $formula,
                source: $source,
                holds: $holds,
                fields: <Takes as $crate::reckon::declare::Record>::FIELDS,
                outputs: <Gives as $crate::reckon::declare::Results>::OUTPUTS,
                limits: &[ $( $( $words, )* )? ],
                example: $example,
                compute: |map| {
                    let i = <Takes as $crate::reckon::declare::Record>::read(map)?;
                    let answer = super::$module(&i)?;
                    let outside = LIMITS.iter().filter(|l| (l.1)(&i, &answer)).map(|l| l.0).collect();
                    Ok((<Gives as $crate::reckon::declare::Results>::leave(&answer), outside))
                },
            };
        }
    };
}
pub(crate) use {absent, computation, default_of, gives, takes};
