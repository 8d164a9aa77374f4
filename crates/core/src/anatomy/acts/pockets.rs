//! Seals and cups that hang on the shaft until their pocket comes around them.

use super::super::kinds::Role;
use super::super::{joints, space};
use super::laws::{Because, plain};
use super::work::{Work, must_come_later};
use super::{Act, Law, Phase, Stage, Verb};
use crate::terms::{ActId, End};

/// The act after which a seal lies in its pocket: its own where that is there before, else the one that brings it.
pub(super) fn in_pocket(w: &Work, i: usize, pocket: usize) -> String {
    let (on, around) = (ActId::on(w.id(i)).text(), w.step(w.hides(pocket)));
    if must_come_later(w, &around, &on) { on } else { around }
}

/// Ways to the two faces of a seal while an act is done.
pub(super) fn faces(w: &Work, i: usize, act: &str) -> [Option<Vec<usize>>; 2] {
    [End::A, End::B].map(|end| {
        space::taking(w.all, i, &space::before_face(w.all, i, end, space::TOOL, (0.0, 1.0), &|h| w.stands(h, act)))
    })
}

/// What hangs on the shaft until its pocket is around it is driven home by an act of its own; what is measured of it
/// comes after that. Where nobody reaches it there, a note asks.
pub(super) fn driven(w: &mut Work) {
    for i in 1..w.all.list.len() {
        let loose = w.all.list[i].parent.is_none() && w.all.list[i].stands_in.is_none();
        let pocketed = |p: &&crate::anatomy::Part| matches!(p.kind.role(), Role::Lip | Role::Cup);
        let Some(p) = w.all.part(w.a, i).filter(|_| loose).filter(pocketed) else { continue };
        let Some(o) = joints::pocket(w.a, w.all, i) else { continue };
        let (id, on) = (w.id(i).to_owned(), ActId::on(w.id(i)).text());
        let around = in_pocket(w, i, o);
        if around == on {
            continue;
        }
        let ways = faces(w, i, &around);
        let Some(hiding) = w.least_hidden(ways, &around) else { continue };
        let (name, into) = (&p.name, w.name(o));
        let (words, tool) = if p.kind.role() == Role::Cup {
            (
                format!("Drive {name} home into {into} by its own ring, square: the note changes when it is home."),
                "cup driver",
            )
        } else {
            (
                format!(
                    "Drive {name} home into {into}: square, opposite then quarter points; lip oiled, looked at all round."
                ),
                "seal driver",
            )
        };
        let drive = ActId::drive(&id).text();
        let act = Act::new(&drive, Verb::Set, Phase::Mount, Stage::CloseUp, &id, words).with(tool, 6.0);
        w.g.add(if p.kind.role() == Role::Lip { act.gives([format!("{id}.depth")]) } else { act });
        w.g.edge(&on, &drive, plain(Law::Joint, format!("{} hangs on the shaft first", p.name)));
        w.g.edge(&around, &drive, plain(Law::Joint, format!("{} has its pocket in {}", p.name, w.name(o))));
        let tilt = ActId::tilt(&id).text();
        w.g.edge(&drive, &tilt, plain(Law::Joint, format!("{} is driven home before its tilt is read", p.name)));
        let home = ActId::home(&id).text();
        w.g.edge(&drive, &home, plain(Law::Joint, format!("{} is driven before it is proved home", p.name)));
        for k in hiding {
            let then = w.step(w.hides(k));
            w.g.edge(&drive, &then, Because::Room { tool, held: i, standing: k });
        }
    }
}
