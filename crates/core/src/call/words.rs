//! All the words of all calls, in one place so that they can be read through and improved together.

use super::{Amount, Situation};
use crate::quantity::show::capital;
use crate::quantity::{Micrometres, Units};
use crate::terms::{Method, Surface};

/// The three texts of a call.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Words {
    /// What it comes to, a few words.
    pub title: String,
    /// Why, one sentence.
    pub reason: String,
    /// What to do, with its number.
    pub action: String,
}

fn words(title: impl Into<String>, reason: impl Into<String>, action: impl Into<String>) -> Words {
    Words { title: title.into(), reason: reason.into(), action: action.into() }
}

fn take(better: &Option<String>) -> String {
    match better {
        Some(name) => format!("Take the {}: it can tell.", small(name)),
        None => "No instrument in the shop's list can tell at this value: borrow a finer one, or judge it as the worse of the two.".into(),
    }
}

/// A name of the list within a sentence: first letter small, unless it is an abbreviation.
fn small(name: &str) -> String {
    let mut c = name.chars();
    match (c.next(), c.next()) {
        (Some(a), Some(b)) if b.is_lowercase() => a.to_lowercase().chain([b]).chain(c).collect(),
        _ => name.to_owned(),
    }
}

fn cells(n: usize) -> String {
    if n == 1 { "1 reading to go".into() } else { format!("{n} readings to go") }
}

/// The words for a situation, in a person's units.
#[must_use]
#[allow(clippy::too_many_lines)] // a phrase book: one arm per situation, nothing to factor out
pub fn of(situation: &Situation, units: Units) -> Words {
    let um = |v: &Micrometres| Amount::Small(Micrometres(v.0.abs())).show(units);
    let between = |mend: &Option<(Micrometres, Micrometres)>, by: &Micrometres| match mend {
        Some((least, most)) => format!("at least {} and at most {}", um(least), um(most)),
        None => format!("at least {}", um(by)),
    };
    use Situation as S;
    match situation {
        S::NothingRead { cells } => words(
            "Nothing read yet",
            format!("{cells} readings, in the order your hands move."),
            "Wipe it, zero the instrument, take the first one.",
        ),
        S::SizeGood { surface, left: 0, guarded } => words(
            format!("{} is good", capital(surface.words())),
            if *guarded {
                "Every reading lies inside the limits by more than the instrument can be wrong."
            } else {
                "Every reading lies inside the limits; what the instrument can be wrong by is left out of it, by house rule."
            },
            match surface {
                Surface::Journal => "Leave it as it is. Oil it lightly and go on to the ring.",
                Surface::RingBore => "The ring is what it says it is. Go on to the fit.",
                _ => "Leave it as it is and go on.",
            },
        ),
        S::SizeGood { left, .. } => {
            words("Good so far", "What has been read lies inside the limits.", format!("Go on: {}.", cells(*left)))
        }
        S::ReadAgain { surface, station, plane, beyond } => words(
            match beyond {
                Some(by) => {
                    let way = if by.get() > 0.0 { "over" } else { "under" };
                    format!("{} {} {way} size by one reading alone", capital(surface.words()), um(by))
                }
                None => format!("{} out of shape by one reading alone", capital(surface.words())),
            },
            "No other reading says so. A speck, a tilted gauge or a turn of the thimble reads like that; nothing is machined on the word of one reading.",
            format!(
                "Read plane {plane}, {}, again. If it says the same, it is the part.",
                crate::sheet::station(*station)
            ),
        ),
        S::SizeOver { surface: Surface::Journal, by, mend } => words(
            format!("Journal {} over size", um(by)),
            "The shaft is thicker than its limit, so the ring goes on too tight: force and heat go up, clearance inside the bearing goes down.",
            format!(
                "Take {} off the diameter: polish it down evenly along the land, or grind it. Measure again.",
                between(mend, by)
            ),
        ),
        S::SizeUnder { surface: Surface::Journal, by, mend } => words(
            format!("Journal {} under size", um(by)),
            "The shaft is thinner than its limit: the ring would creep on it, polish it and run hot.",
            format!(
                "Build it up and grind it back until it is {} thicker: plate, spray or sleeve the land. Retaining compound only if the build sheet allows it; no punch marks, no knurl.",
                between(mend, by)
            ),
        ),
        S::SizeOver { surface: Surface::RingBore, by, .. } => words(
            format!("Ring bore {} too large", um(by)),
            "The bore is beyond its class: the ring is worn or not the one on the box.",
            "Do not fit it. Measure another ring.",
        ),
        S::SizeUnder { surface: Surface::RingBore, by, .. } => words(
            format!("Ring bore {} too small", um(by)),
            "The bore is smaller than its class allows: dirt, a burr, or a gauge that is not zeroed.",
            "Wipe it, zero the gauge on the ring gauge, read again. If it stays, take another ring.",
        ),
        S::SizeOver { surface: Surface::HousingBore, by, .. } => words(
            format!("Housing bore {} too large", um(by)),
            "The outer ring would creep in it.",
            "Sleeve the bore, or plate and hone it to size.",
        ),
        S::SizeUnder { surface: Surface::HousingBore, by, mend } => words(
            format!("Housing bore {} too small", um(by)),
            "The outer ring would be squeezed and lose its clearance.",
            format!("Hone {} out of the diameter and measure again.", between(mend, by)),
        ),
        S::SizeOver { surface: Surface::RingOutside, by, .. } => words(
            format!("Ring outside is {} larger than its class", um(by)),
            "The ring is not what the box says, or it is not clean.",
            "Wipe it and measure again; if it stays, take another ring.",
        ),
        S::SizeUnder { surface: Surface::RingOutside, by, .. } => words(
            format!("Ring outside is {} smaller than its class", um(by)),
            "The ring is worn or not what the box says: it would creep in its bore.",
            "Measure again; if it stays, take another ring.",
        ),
        S::SizeUndecided { surface, margin, instrument, u, better } => words(
            format!("{} undecided with this instrument", capital(surface.words())),
            format!(
                "It is {} {} the limit, and the {} can be wrong by {}.",
                um(margin),
                if margin.0 < 0.0 { "outside" } else { "inside" },
                small(instrument),
                um(u)
            ),
            take(better),
        ),
        S::TooCoarse { surface, instrument, u, tolerance, better } => words(
            "Too coarse an instrument",
            format!(
                "The {} has a tolerance of {}; the {} can be wrong by {}. Here microns decide.",
                surface.words(),
                um(tolerance),
                small(instrument),
                um(u)
            ),
            take(better),
        ),
        S::OutOfRound { surface, by, allowed, station } => words(
            format!("{} out of round", capital(surface.words())),
            format!(
                "Station {station} is {} out of round; this fit can bear {}. The ring would take the shape of the seat.",
                um(by),
                um(allowed)
            ),
            if *surface == Surface::Journal {
                "Check in a vee or on centres, then polish or grind it round before any ring goes on."
            } else {
                "Turn the ring a quarter and read again. If it stays, it is the part: exchange or re-machine it."
            },
        ),
        S::Taper { surface, by, allowed, larger_at_b } => words(
            format!("{} tapers", capital(surface.words())),
            format!(
                "It is {} larger at end {}; this fit can bear {}. The ring would sit tight at one side only and walk.",
                um(by),
                if *larger_at_b { "B" } else { "A" },
                um(allowed)
            ),
            if *surface == Surface::Journal {
                "Take the high end down until both ends agree, or build up and grind the land."
            } else {
                "Read it again from the other side. If it stays, exchange or re-machine the part."
            },
        ),
        S::FormUndecided { surface, by, allowed, instrument, better } => words(
            "Form undecided",
            format!(
                "The {} varies by {}, {} is allowed, and the {} cannot tell which side of it this is.",
                surface.words(),
                um(by),
                um(allowed),
                small(instrument)
            ),
            take(better),
        ),
        S::FitWaits { journal, bore } => words(
            "Fit not known yet",
            match (journal, bore) {
                (true, true) => "Neither the journal nor the ring bore is measured.",
                (true, false) => "The journal is not measured yet.",
                _ => "The ring bore is not measured yet.",
            },
            "Measure it; interference, force, heat and clearance follow by themselves.",
        ),
        S::FitGood { mean, method } => words(
            format!("Fit is good: {} {}", um(mean), if mean.0 < 0.0 { "loose, as drawn" } else { "tight" }),
            if mean.0 < 0.0 {
                "It is to slide, and it does. The clearance left inside comes out on the right side."
            } else {
                "Ring, press, heat and the clearance left inside all come out on the right side."
            },
            match method {
                Method::Heat => "Heat the ring: least force, least risk.",
                Method::Press => "Press it on through the tight ring.",
                Method::HeatAndPress => "Heat to the cap and press the rest.",
                Method::Slide => "Slide it on by hand.",
                Method::WarmHousing => "Warm the housing and let the ring drop in.",
            },
        ),
        S::Spins { mean } => words(
            "The ring would spin",
            format!("It is {} loose on its seat where the build sheet wants it tight.", um(mean)),
            "Build the journal up (plate, spray or sleeve) and grind it to size, or fit a shaft that is right. Another ring of the same class gains a few microns at best.",
        ),
        S::ForceOverPress { force, press, allowed, heat_helps } => words(
            "Too much for the press",
            format!(
                "It may take {}; the {press} should not go beyond {}.",
                Amount::Force(*force).show(units),
                Amount::Force(*allowed).show(units)
            ),
            if *heat_helps {
                "Do not press it cold. Use heat, or take the journal down."
            } else {
                "Take the journal down to its limits: neither press nor heat will do it as it is."
            },
        ),
        S::NoPress { force, heat_helps } => words(
            "No press for it",
            format!("It may take {}, and the shop's list has no press.", Amount::Force(*force).show(units)),
            if *heat_helps { "Heat the ring instead." } else { "Take the journal down to its limits first." },
        ),
        S::NoTube { bore, outside, length } => words(
            "No tube fits this ring",
            "Force may only go through the tight ring, and no tube in the shop's list bears on it alone.",
            format!(
                "Turn one: bore at least {}, outside at most {}, longer than {}.",
                Amount::Size(*bore, crate::quantity::Millimetres(0.1)).show(units),
                Amount::Size(*outside, crate::quantity::Millimetres(0.1)).show(units),
                Amount::Size(*length, crate::quantity::Millimetres(1.0)).show(units)
            ),
        ),
        S::RingStressHigh { hoop_mpa } => words(
            "Ring under high stress",
            format!(
                "The bore of the ring would carry {}; hardened rings have cracked from {}.",
                stress(*hoop_mpa, units),
                stress(120.0, units)
            ),
            "Measure again, and look whether this interference is really wanted. Ease the journal if it is not.",
        ),
        S::Yields { part, share } if *share > 1.0 => words(
            format!("{} would yield", capital(part)),
            format!(
                "Its bore would carry {:.0} % of what it yields at: pressed home, it would give way and hold no more than that.",
                share * 100.0
            ),
            "Do not press it. Ease the fit, or ask whoever chose it which material was meant.",
        ),
        S::Yields { part, share } => words(
            format!("{} near its yield", capital(part)),
            format!(
                "Its bore would carry {:.0} % of what it yields at; from 70 % on there is little left for heat and load.",
                share * 100.0
            ),
            "Measure both surfaces again, and look whether so much interference is really wanted.",
        ),
        S::NoClearance { left, lost_shaft, lost_housing, group } => words(
            "No clearance left in the bearing",
            format!(
                "On the mean {} would be missing: the shaft takes {}, the housing {}. It would run preloaded and hot.",
                um(left),
                um(lost_shaft),
                um(lost_housing)
            ),
            format!(
                "Ease the ring that carries the standing load, or take the next clearance group ({}).",
                next_group(group)
            ),
        ),
        S::LittleClearance { left, group } => words(
            "Very little clearance left",
            if left.0 < 0.0 {
                format!("In the worst case {} is missing.", um(left))
            } else {
                format!("In the worst case only {} is left.", um(left))
            },
            format!(
                "Turn the bearing by hand once it is on: it must run free. If it runs warm anyway, take group {}.",
                next_group(group)
            ),
        ),
        S::MuchClearance { left } => words(
            "Clearance on the large side",
            format!("{} is left on the mean, the upper half of the group.", um(left)),
            "Go on; expect it to run a little louder.",
        ),
        S::CapNotEnough { cap, needed, spare, force, weakest } => {
            let t = |c: &crate::quantity::Celsius| Amount::Temperature(*c).show(units);
            words(
                "Heat alone is not enough",
                if spare.0 < 0.0 {
                    format!(
                        "It would need {}; {weakest} allow {}. It is still {} tight at that.",
                        t(needed),
                        t(cap),
                        um(spare)
                    )
                } else {
                    format!(
                        "It would need {}; {weakest} allow {}. Only {} is left to slide with.",
                        t(needed),
                        t(cap),
                        um(spare)
                    )
                },
                if force.0 > 0.0 {
                    format!(
                        "Heat to {} and press the rest: up to {}. Have press and tube ready before the ring leaves the heater.",
                        t(cap),
                        Amount::Force(*force).show(units)
                    )
                } else {
                    format!("Heat to {} and be quick; have press and tube ready in case it grips on the way.", t(cap))
                },
            )
        }
        S::TightInHousing { mean, force, warm } => words(
            "Tight in its housing",
            format!(
                "It is {} tight in the bore: pushed in cold it may take {}, through the outer ring.",
                um(mean),
                Amount::Force(*force).show(units)
            ),
            match warm {
                Some(t) => {
                    format!(
                        "Warm the housing to {}: then it drops in without force.",
                        Amount::Temperature(*t).show(units)
                    )
                }
                None => "Press it in through the outer ring, and only that one.".into(),
            },
        ),
        S::GrowsInBore { growth, room } => words(
            "Hot, it would not enter its bore",
            if room.0 > 0.0 {
                format!(
                    "The bore is there already. It leaves {} round the ring, and hot the ring grows by {}.",
                    um(room),
                    um(growth)
                )
            } else {
                format!(
                    "The bore is there already and has no room to give; hot, the ring grows by {} in it.",
                    um(growth)
                )
            },
            "Press it on cold, or warm the housing with it so that the bore grows as well.",
        ),
        S::GripShort { seconds, hands, target } => words(
            "Too little time in hand",
            format!(
                "From {} it grips after {:.0} s; your hands need {:.0} s.",
                Amount::Temperature(*target).show(units),
                seconds.0,
                hands.0
            ),
            "Have the shaft upright beside the heater, a second pair of hands and a tube ready to push it home, or press it.",
        ),
        S::HeatGood { target, seconds } => words(
            format!("Heat to {}", Amount::Temperature(*target).show(units)),
            format!("It slides on and leaves {:.0} s before it grips.", seconds.0),
            "Push it against the shoulder and hold it there until it grips.",
        ),
        S::HomeWaits { left } => words(
            "Not proved yet",
            format!("{}.", capital(&cells(*left))),
            "Try the thinnest feeler between ring and shoulder at four places, then the depth.",
        ),
        S::Home { gap: None } => words(
            "The ring is home",
            "The feeler goes in nowhere and the depth agrees with the drawing.",
            "Nip the nut now that it is cold, then sign.",
        ),
        S::Home { gap: Some(gap) } => words(
            "The ring is home",
            format!("The feeler goes in nowhere; the depth is {} off the drawing, within its limit.", um(gap)),
            "Nip the nut now that it is cold, then sign.",
        ),
        S::FeelerGoesIn { places } => words(
            "The ring is not home",
            format!("The feeler goes in at {}.", places.join(", ")),
            "Push it home while it can still move. If it has gripped: take it off warm, clean the shoulder, look for a burr, fit it again.",
        ),
        S::DepthOff { by, tolerance } => words(
            "Depth does not agree",
            format!(
                "It stands {} {} than drawn; {} is allowed.",
                um(by),
                if by.0 > 0.0 { "further out" } else { "further in" },
                um(tolerance)
            ),
            if by.0 > 0.0 {
                "Something is under the ring, or it stopped short. Take it off and look at the shoulder."
            } else {
                "Check the datum and the reading: a ring cannot go through its shoulder."
            },
        ),
        S::DepthUndecided { by, instrument, better } => words(
            "Depth undecided",
            format!("It is {} from the drawing and the {} cannot tell.", um(by), small(instrument)),
            take(better),
        ),
        S::CannotReckon { field, why } => words(
            "The fit cannot be reckoned",
            format!("{field}: {why}."),
            "Look at the readings; if they are right, the build sheet needs mending: tell a lead.",
        ),
    }
}

/// A stress in the reader's unit.
fn stress(mpa: f64, units: Units) -> String {
    match units {
        Units::Metric => format!("{mpa:.0} MPa"),
        Units::Inch => format!("{:.1} ksi", mpa / 6.894_757),
    }
}

/// What follows a clearance group.
fn next_group(group: &str) -> &'static str {
    match group {
        "2" => "normal",
        "N" => "C3",
        "3" => "C4",
        _ => "C5",
    }
}
