//! Who is there: codes that count once, a last lead who stays, signatures of who left.

use crate::support::Fresh;
use ironseat_store::chain::digests::Chain;
use ironseat_store::read::{self, rebuilds};
use ironseat_store::rows::person::Role;
use ironseat_store::write::roster::{First, Own};
use ironseat_store::{Id, StoreError, chain, write};

fn first(handle: &str, code: &str, password: &str, pin: Option<&str>) -> First {
    First { handle: handle.into(), code: code.into(), password: password.into(), pin: pin.map(Into::into) }
}

fn field(e: &StoreError) -> &str {
    match e {
        StoreError::Refused(r) => &r.field,
        StoreError::Held(_) => "held",
        StoreError::TooMany(_) => "too many",
        other => panic!("{other}"),
    }
}

#[tokio::test]
async fn a_person_is_put_in_sets_a_password_once_and_leaves() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let ines = f.person("ines");
    for (handle, name, wrong) in [
        ("", "New Hand", "handle"),
        ("new hand", "New Hand", "handle"),
        ("new", "  ", "name"),
        ("new", "A\u{202e}B", "name"),
        ("ines", "Other", "handle"),
    ] {
        assert_eq!(
            field(&write::roster::invite(c, Some(&ines), handle, name, Role::Bench, None).unwrap_err()),
            wrong,
            "{handle} {name}"
        );
    }
    let code = write::roster::invite(c, Some(&ines), " Marek ", "Marek  Quill", Role::Bench, None).unwrap();
    let listed = |c: &mut diesel::MysqlConnection, handle: &str| {
        read::roster::list(c).unwrap().into_iter().find(|p| p.handle == handle).unwrap()
    };
    let marek = listed(c, "marek");
    assert!(marek.name == "Marek Quill" && !marek.signs_in() && marek.code_until.is_some());
    assert!(write::secrets::sign_in(c, "marek", "!").unwrap().is_none(), "no password is no password");

    let go = |handle: &str, code: &str, password: &str, pin: Option<&str>| {
        let wanted = first(handle, code, password, pin);
        let store = f.store.clone();
        async move { store.first_sign_in(wanted, "10.0.0.1".into()).await }
    };
    for (code, password, pin, wrong) in [
        (code.as_str(), "short", Some("2711"), "password"),
        (code.as_str(), "a long enough one", Some("1234"), "pin"),
        ("AAAA-BBBB-CCCC", "a long enough one", Some("2711"), "code"),
        (code.as_str(), "a long enough one", None, "pin"),
    ] {
        assert_eq!(field(&go("marek", code, password, pin).await.unwrap_err()), wrong, "{password} {pin:?}");
    }
    let typed = code.to_lowercase().replace('-', " ");
    assert_eq!(go("marek", &typed, "a long enough one", Some("2711")).await.unwrap().name, "Marek Quill");
    assert_eq!(
        field(&go("marek", &code, "another long one", Some("2711")).await.unwrap_err()),
        "code",
        "it counts once"
    );
    assert!(write::secrets::sign_in(c, "marek", "a long enough one").unwrap().is_some());
    write::secrets::check_pin(c, marek.id, "2711").unwrap();

    // One's own password and PIN, with the password of now.
    let me = read::people::get(c, marek.id).unwrap().unwrap();
    let own = |old: &str, own: Own| f.store.change_own(me.clone(), old.into(), own, "10.0.0.1".into());
    assert_eq!(field(&own("wrong", Own::Pin("8052".into())).await.unwrap_err()), "old");
    assert_eq!(field(&own("a long enough one", Own::Pin("1111".into())).await.unwrap_err()), "pin");
    own("a long enough one", Own::Pin("8052".into())).await.unwrap();
    own("a long enough one", Own::Password("yet another one".into())).await.unwrap();
    write::secrets::check_pin(c, marek.id, "8052").unwrap();
    assert!(write::secrets::sign_in(c, "marek", "a long enough one").unwrap().is_none());

    // Void at once: password, PIN, and every session that was made with them.
    let fresh = write::roster::reset(c, Some(&ines), marek.id).unwrap();
    assert_ne!(fresh, code);
    assert!(write::secrets::sign_in(c, "marek", "yet another one").unwrap().is_none());
    assert_eq!(field(&write::secrets::check_pin(c, marek.id, "8052").unwrap_err()), "pin");
    go("marek", &fresh, "and one more word", Some("8052")).await.unwrap();

    write::roster::rename(c, &ines, marek.id, "Marek Quill-Haven").unwrap();
    write::roster::put_away(c, &ines, marek.id).unwrap();
    assert!(read::people::get(c, marek.id).unwrap().is_none(), "no session finds who is put away");
    assert!(write::secrets::sign_in(c, "marek", "and one more word").unwrap().is_none());
    write::roster::bring_back(c, &ines, marek.id).unwrap();
    assert_eq!(write::secrets::sign_in(c, "marek", "and one more word").unwrap().unwrap().name, "Marek Quill-Haven");

    // Everything stands in the record of people, by whom, and that is whole.
    let said: Vec<String> = chain::shop::entries(c, Chain::People)
        .unwrap()
        .into_iter()
        .map(|e| format!("{}: {}", e.person, e.said))
        .collect();
    for wanted in [
        "Ines Okafor: Marek Quill put in as bench.",
        "Marek Quill: Marek Quill set password and PIN.",
        "Marek Quill: Marek Quill changed their PIN.",
        "Ines Okafor: Marek Quill is called Marek Quill-Haven.",
        "Ines Okafor: Marek Quill-Haven put away.",
        "Ines Okafor: Marek Quill-Haven taken in again.",
    ] {
        assert!(said.iter().any(|s| s == wanted), "{wanted}: {said:?}");
    }
    assert!(chain::shop::verify(c, Chain::People).unwrap().whole());
}

#[tokio::test]
async fn the_last_lead_stays_and_signatures_outlive_their_hands() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let (ines, tomasz) = (f.person("ines"), f.person("tomasz"));
    for e in [
        write::roster::put_away(c, &ines, ines.id).unwrap_err(),
        write::roster::set_role(c, Some(&ines), ines.id, Role::Bench, None).unwrap_err(),
    ] {
        assert!(matches!(&e, StoreError::Held(s) if s.contains("last lead")), "{e}");
    }
    // A lead who cannot sign in yet is none to rely on.
    write::roster::invite(c, Some(&ines), "second", "Second Lead", Role::Lead, None).unwrap();
    assert_eq!(field(&write::roster::put_away(c, &ines, ines.id).unwrap_err()), "held");
    write::roster::set_role(c, Some(&ines), tomasz.id, Role::Lead, None).unwrap();
    write::roster::put_away(c, &tomasz, ines.id).unwrap();
    assert_eq!(field(&write::roster::put_away(c, &tomasz, tomasz.id).unwrap_err()), "held");
    let signs = rebuilds::signatures(c, f.rebuild("R-0398")).unwrap();
    assert!(signs.iter().any(|s| s.person == "Ines Okafor"), "what she signed stays signed");
    assert!(matches!(write::roster::rename(c, &tomasz, Id::new(), "Nobody"), Err(StoreError::NotFound)));
    // From the command line a lead who locked herself out comes in again.
    write::roster::bring_back(c, &tomasz, ines.id).unwrap();
    let code = write::roster::reset(c, None, ines.id).unwrap();
    let back =
        f.store.first_sign_in(first("ines", &code, "back at the bench", Some("2408")), String::new()).await.unwrap();
    assert_eq!(back.role, Role::Lead);
    let last = chain::shop::entries(c, Chain::People).unwrap();
    assert!(last.iter().any(|e| e.person == "at the console" && e.said.contains("a new code")));
}

#[tokio::test]
async fn two_leads_who_put_each_other_away_at_once_leave_one() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let (ines, yuki) = (f.person("ines"), f.person("yuki"));
    write::roster::set_role(c, Some(&ines), yuki.id, Role::Lead, None).unwrap();
    let hands: Vec<_> = [(ines.clone(), yuki.id), (yuki.clone(), ines.id)]
        .into_iter()
        .map(|(who, other)| {
            let mut c = f.connection();
            std::thread::spawn(move || write::roster::put_away(&mut c, &who, other).is_ok())
        })
        .collect();
    let done: Vec<bool> = hands.into_iter().map(|h| h.join().unwrap()).collect();
    assert_eq!(done.iter().filter(|d| **d).count(), 1, "{done:?}");
    assert!(read::roster::list(c).unwrap().iter().any(|p| p.role() == Role::Lead && p.put_away_at.is_none()));
}
