//! The scripts of a page.

use ironseat_web::tried::{Files, MODULES};

#[test]
fn every_module_is_named_and_every_one_named_is_there() {
    let (mut all, mut waiting) = (vec!["main".to_owned()], vec!["main".to_owned()]);
    while let Some(name) = waiting.pop() {
        let file = Files::get(&format!("js/{name}.js")).unwrap();
        let text = String::from_utf8(file.data.to_vec()).unwrap();
        for other in
            text.split("from \"./").chain(text.split("import \"./")).skip(1).filter_map(|t| t.split_once(".js\""))
        {
            if !all.contains(&other.0.to_owned()) && !other.0.contains('\n') {
                all.push(other.0.to_owned());
                waiting.push(other.0.to_owned());
            }
        }
    }
    let mut named: Vec<String> = MODULES.map(str::to_owned).to_vec();
    all.sort();
    named.sort();
    assert_eq!(all, named);
}
