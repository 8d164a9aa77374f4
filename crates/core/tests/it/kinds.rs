//! Every kind of part alone on a shaft: what is asked before it is touched, what its marks lie on, that it goes on and comes off. The
//! expectation stands here by kind, as a fitter would say it; the program has it from the role of each.

use ironseat_core::anatomy::acts::Phase;
use ironseat_core::anatomy::as_found::{self, Topic};
use ironseat_core::anatomy::edit::{Edit, blank};
use ironseat_core::anatomy::{Anatomy, PartKind, build_sheet, derive};
use ironseat_core::inspect::{On, marks_on, on_part};

use Topic::{Depth, Facing, Hand, MatchMark, Order, Place, Resistance, StandOut, Thickness, Wire};

const TABLE: &[(&str, &[Topic], Option<On>)] = &[
    ("bearing", &[Facing], Some(On::Bearing)),
    ("taper_cone", &[Facing], Some(On::Bearing)),
    ("cup", &[Facing], Some(On::Bearing)),
    ("thrust_washer", &[Facing], Some(On::Bearing)),
    ("spacer", &[], None),
    ("shim", &[Thickness, Place], None),
    ("seal", &[Facing, Depth], Some(On::Lip)),
    ("o_ring", &[], Some(On::Lip)),
    ("ring", &[], Some(On::Lip)),
    ("sleeve", &[], None),
    ("collar", &[], Some(On::Slides)),
    ("key", &[], None),
    ("impeller", &[Facing], Some(On::Wheel)),
    ("wheel", &[Facing], Some(On::Wheel)),
    ("pulley", &[], None),
    ("gear", &[], None),
    ("flinger", &[Facing], None),
    ("nut", &[StandOut, MatchMark, Hand], None),
    ("tab_washer", &[Facing], None),
    ("circlip", &[Facing], None),
    ("set_screw", &[], None),
    ("cover", &[], Some(On::Housing)),
    ("insert", &[Facing], Some(On::Housing)),
    ("cap", &[], Some(On::Housing)),
    ("expander", &[], None),
    ("shoe_set", &[Facing, Order], Some(On::Slides)),
    ("base_ring", &[], Some(On::Slides)),
    ("probe", &[Wire, Resistance], None),
    ("bush", &[], Some(On::Slides)),
    ("gasket", &[], None),
    ("plate", &[], None),
];

fn alone(kind: PartKind) -> Anatomy {
    Edit::AddPart { kind, land: "land-1".into(), into: None }.apply(&blank("one", "One part")).unwrap()
}

#[test]
fn each_kind_is_asked_about_and_looked_at_as_a_fitter_would() {
    assert_eq!(TABLE.len(), PartKind::ALL.len(), "a kind without a row here");
    for (key, topics, on) in TABLE {
        let kind = PartKind::of(key).unwrap_or_else(|| panic!("{key}"));
        let a = alone(kind);
        let part = &a.parts[0];
        let asked: Vec<Topic> = as_found::questions(&a).iter().map(|q| q.topic).collect();
        assert_eq!(asked, *topics, "{key}");
        assert_eq!(on_part(&a, &part.id), *on, "{key}");
        if let Some(on) = on {
            assert!(marks_on(*on).count() > 1, "{key}: marks to choose from");
        }
        // A question that asks for a number says in what, and every one names the part in its short form.
        for q in as_found::questions(&a) {
            assert!(q.short.starts_with(&part.name) && q.words.starts_with(&part.name), "{key}: {q:?}");
            assert_eq!(q.before_off, std::slice::from_ref(&part.id), "{key}: taking it off loses what is asked");
            assert!(!q.topic.before_loosen(), "{key}: a single part has no play to lose");
        }
    }
}

#[test]
fn each_kind_goes_on_and_comes_off_and_is_the_same_in_writing() {
    for kind in PartKind::ALL {
        let a = alone(*kind);
        assert_eq!(build_sheet::parse(&build_sheet::write(&a)).unwrap(), a, "{kind:?}");
        let d = derive(&a).unwrap();
        let id = &a.parts[0].id;
        for phase in [Phase::Apart, Phase::Mount] {
            let moves = d.acts.iter().filter(|s| s.phase == phase && s.body.split('.').next() == Some(id)).count();
            assert!(moves > 0, "{kind:?} in {phase:?}: {:?}", d.acts.iter().map(|s| &s.id).collect::<Vec<_>>());
        }
        // Nothing lies on it: nothing has to come off before it, and nothing is spent.
        let have = d.bodies.list.iter().skip(1).map(|b| b.id.as_str()).collect::<Vec<_>>();
        let cost = d.back_out(&a, &have, id).unwrap();
        assert!(cost.off.is_empty() && cost.scrapped.is_empty(), "{kind:?}: {cost:?}");
    }
}
