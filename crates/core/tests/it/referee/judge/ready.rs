//! What a machine needs besides being fastened, as the referee sees it: wet shells, packing on its sleeve, expanders that
//! bear, marks that meet, oil before the first turn under power, nothing hot under the weight of the rotor.

use super::{B, Judge};
use ironseat_core::anatomy::acts::{Act, Phase, Verb};
use ironseat_core::anatomy::{Hold, Lubricant, PartKind};

/// Shares most of the length of the inner one, and lies outside of it.
fn over(outer: &B, inner: &B) -> bool {
    let ((x0, x1), (_, r1)) = (inner.x(), inner.r());
    outer.rings.iter().any(|r| r[2] >= r1 - 0.5 && r[1].min(x1) - r[0].max(x0) > (x1 - x0) / 2.0)
}

impl Judge<'_> {
    fn is(&self, id: &str, kind: PartKind) -> bool {
        self.all.get(id).is_some_and(|b| b.kind() == Some(kind))
    }
    fn lid(&self, id: &str) -> bool {
        self.all[id].parted() || self.is(id, PartKind::Cap)
    }
    fn shut(&self, lid: &str) -> bool {
        if self.all[lid].parted() { self.closed.contains(lid) } else { self.world.contains(lid) }
    }
    fn shells(&self) -> impl Iterator<Item = &String> {
        self.all.iter().filter(|(_, b)| b.kind() == Some(PartKind::Bush) && b.sideways_in()).map(|x| x.0)
    }
    fn packings(&self) -> impl Iterator<Item = &String> {
        self.all
            .iter()
            .filter(|(_, b)| {
                b.kind() == Some(PartKind::Ring) && b.sideways_in() && (b.carrier.is_some() || b.stands.is_some())
            })
            .map(|x| x.0)
    }
    /// The surface that packing runs on.
    fn runs_on(&self, packing: &str, o: &str) -> bool {
        let own = &self.all[packing].rings;
        o != packing
            && self.all[o].carrier.is_none()
            && self.all[o].rings.iter().any(|r| {
                own.iter().any(|m| (r[3] - m[2]).abs() < 0.5 && r[1].min(m[1]) - r[0].max(m[0]) > 0.5 * (m[1] - m[0]))
            })
    }
    /// Closes upon packing from its end.
    fn follows(&self, packing: &str, o: &str) -> bool {
        let own = &self.all[packing];
        let carrier = own.carrier.as_deref().or(own.stands.as_deref()).map(|c| self.root(c));
        matches!(self.all[o].kind(), Some(PartKind::Cover | PartKind::Insert | PartKind::Cap))
            && carrier != Some(self.root(o))
            && self.all[o].rings.iter().any(|r| {
                own.rings.iter().any(|m| {
                    ((r[0] - m[1]).abs() <= 0.6 || (m[0] - r[1]).abs() <= 0.6) && r[3].min(m[3]) - r[2].max(m[2]) > 1.0
                })
            })
    }
    /// Collars that a plate shuts in.
    fn behind(&self, plate: &str) -> Vec<String> {
        let near = |b: &B| {
            self.all[plate].rings.iter().any(|r| {
                b.rings.iter().any(|m| (r[0] - m[1]).max(m[0] - r[1]) <= 2.0 && r[3].min(m[3]) - r[2].max(m[2]) > 1.0)
            })
        };
        self.all.iter().filter(|(_, b)| b.kind() == Some(PartKind::Collar) && near(b)).map(|x| x.0.clone()).collect()
    }
    fn wheel_of(&self, nut: &str) -> Option<String> {
        self.stack(nut).into_iter().find(|m| self.is(m, PartKind::Impeller) || self.is(m, PartKind::Wheel))
    }

    /// What comes off with packing round it, or under its follower.
    pub(super) fn packed(&self, id: &str) -> Result<(), String> {
        for p in self.packings().filter(|p| self.world.contains(*p)) {
            if self.runs_on(p, id) {
                return Err(format!("{p} is packed round it"));
            }
            if p == id
                && let Some(f) = self.world.iter().find(|f| self.follows(p, f))
            {
                return Err(format!("{f} presses it"));
            }
        }
        Ok(())
    }

    pub(super) fn ready(&mut self, s: &Act) -> Result<(), String> {
        let id = s.body.as_str();
        if s.phase == Phase::Apart {
            return Ok(());
        }
        let kind = s.id.split('.').next().unwrap_or_default();
        match (kind, s.verb) {
            ("oil", _) => {
                if !self.world.contains(id) && !self.fitted.contains(id) {
                    return Err("there is nothing to oil".into());
                }
                if let Some(l) =
                    self.all.keys().find(|l| self.lid(l) && self.shut(l) && over(&self.all[*l], &self.all[id]))
                {
                    return Err(format!("{l} has closed it in"));
                }
                self.made_ready.insert(id.to_owned());
            }
            ("expand", _) => {
                let caps = self.all.keys().filter(|c| self.is(c, PartKind::Cap) && over(&self.all[*c], &self.all[id]));
                for c in caps {
                    let bolts = self.a.bolt_rings.iter().any(|b| b.part == *c);
                    if !self.world.contains(c) || bolts && !self.bolted.contains(c) {
                        return Err(format!("{c}, which it bears against, is not drawn down"));
                    }
                }
                self.made_ready.insert(id.to_owned());
            }
            ("mark", _) => {
                if !self.tight.contains(id) || self.locked.contains(id) {
                    return Err("it is not tight yet, or locked already".into());
                }
                self.made_ready.insert(id.to_owned());
            }
            ("free", _) if self.is(id, PartKind::Collar) => {
                if !self.world.contains(id) {
                    return Err("it is not on".into());
                }
                self.made_ready.insert(id.to_owned());
            }
            ("prove", Verb::Prove) if s.id == "prove.prime" => {
                self.made_ready.insert("machine".to_owned());
            }
            ("prove", Verb::Prove)
                if s.id == "prove.run"
                    && self.a.lubricant == Some(Lubricant::Oil)
                    && !self.made_ready.contains("machine") =>
            {
                return Err("it runs dry".into());
            }
            ("on" | "close", Verb::Place | Verb::Close) => self.comes(s)?,
            (_, Verb::Sweep | Verb::Float) => {
                let loose = |e: &&String| {
                    self.is(e, PartKind::Expander)
                        && self.world.contains(*e)
                        && !self.made_ready.contains(*e)
                        && self.shells().any(|b| over(&self.all[*e], &self.all[b]))
                };
                if let Some(e) = self.all.keys().find(loose) {
                    return Err(format!("{e} lies loose"));
                }
            }
            (_, Verb::Lock | Verb::BendTab) => {
                let nut = if self.is(id, PartKind::TabWasher) { self.nut_of(id)? } else { id.to_owned() };
                if self.is(&nut, PartKind::Nut)
                    && self.a.part(&nut).is_some_and(|p| !p.adjusted)
                    && !self.crossing(&nut)
                    && self.wheel_of(&nut).is_some()
                    && !self.made_ready.contains(&nut)
                {
                    return Err(format!("the marks of {nut} are not looked at"));
                }
            }
            _ => {}
        }
        Ok(())
    }

    /// Something comes to its place, or closes.
    fn comes(&self, s: &Act) -> Result<(), String> {
        let id = s.body.as_str();
        let closes = if self.all[id].parted() { s.verb == Verb::Close } else { self.is(id, PartKind::Cap) };
        if closes {
            let dry = |b: &&String| {
                over(&self.all[id], &self.all[*b])
                    && (self.world.contains(*b) || self.fitted.contains(*b))
                    && !self.made_ready.contains(*b)
            };
            if let Some(b) = self.shells().find(dry) {
                return Err(format!("{b} is closed in dry"));
            }
        }
        if s.verb != Verb::Place {
            return Ok(());
        }
        if self.all_beds().iter().any(|b| b == id) {
            let hot = |o: &&String| {
                let b = &self.all[*o];
                !b.sideways_in()
                    && b.carrier.is_none()
                    && b.part.is_some_and(|p| p.fit == Hold::Shrink)
                    && self.hot.contains(*o)
                    && self.lies_in(b, &self.all[id])
            };
            if let Some(o) = self.world.iter().find(hot) {
                return Err(format!("the shaft would lie on {o}, which is hot"));
            }
        }
        if self.is(id, PartKind::Plate)
            && let Some(c) =
                self.behind(id).into_iter().find(|c| self.world.contains(c) && !self.made_ready.contains(c))
        {
            return Err(format!("nobody turned {c} before it was shut in"));
        }
        for p in self.packings() {
            if p == id
                && let Some(o) = self.all.keys().find(|o| self.runs_on(p, o) && !self.world.contains(self.root(o)))
            {
                return Err(format!("{o}, on which it runs, is not there"));
            }
            if self.follows(p, id) && !self.world.contains(p) {
                return Err(format!("{p}, which it presses, is not packed"));
            }
        }
        Ok(())
    }
}
