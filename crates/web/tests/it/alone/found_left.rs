//! Short names of questions.

use ironseat_web::tried::subject;

#[test]
fn a_question_is_named_by_what_it_is_about() {
    assert_eq!(subject("Lock nut: how far does its face stand from the shaft end?"), "Lock nut, stand-out");
    assert_eq!(subject("Inner seal: which way does the lip face?"), "Inner seal, lip");
    assert_eq!(subject("End play: push, pull, read, before anything is loosened."), "End play");
    assert_eq!(subject("Stage casing, Oil drain: which pipe on which port?"), "Stage casing, Oil drain, pipe");
}

/// Every question a machine type can ask has a short name of its own.
#[test]
fn no_two_questions_of_a_machine_share_a_name() {
    for a in ironseat_store::machine_types().unwrap_or_default() {
        let mut names: Vec<String> =
            ironseat_core::anatomy::as_found::questions(&a).iter().map(|q| subject(&q.words)).collect();
        let n = names.len();
        names.sort();
        names.dedup();
        assert_eq!(names.len(), n, "{}", a.name);
        // And every step an id of its own, so that no tick stands for two.
        let d = ironseat_core::anatomy::derive(&a).unwrap();
        let mut ids: Vec<String> = d.acts.into_iter().map(|s| s.id).collect();
        let n = ids.len();
        ids.sort();
        ids.dedup();
        assert_eq!(ids.len(), n, "{}", a.name);
    }
}
