//! What another program can ask with a key, as OpenAPI.

use ironseat_core::rows::Role;
use ironseat_core::stock::{BOLTS, LEAVES};
use ironseat_store::archive::SCHEMA;
use ironseat_store::rows::token::Scope;
use ironseat_store::write::import::ROLES;
use serde_json::{Map, Value, json};

/// A parameter of an address.
fn asked(name: &str, about: &str, kind: &str) -> Value {
    json!({ "name": name, "in": "query", "required": false, "description": about, "schema": {"type": kind} })
}
fn placed(name: &str, about: &str) -> Value {
    json!({ "name": name, "in": "path", "required": true, "description": about, "schema": {"type": "string"} })
}
fn id() -> Value {
    let mut v = placed("id", "the rebuild");
    v["schema"]["format"] = json!("uuid");
    v
}

fn error() -> Value {
    json!({"application/json": {"schema": {"$ref": "#/components/schemas/Error"}}})
}

/// An operation with its answers: those of every one of them beside its own.
fn operation(
    name: &str,
    summary: &str,
    scope: Scope,
    answer: &Value,
    parameters: &[Value],
    body: Option<Value>,
) -> Value {
    let said = |words: &str| json!({"description": words, "content": error()});
    let mut v = json!({
        "operationId": name,
        "tags": ["rebuilds"],
        "summary": summary,
        "description": format!("Wants the scope `{}`.", scope.key()),
        "security": [{"key": [scope.key()]}],
        "parameters": parameters,
        "responses": {
            "200": {"description": "The answer.", "content": answer},
            "401": said("No key, or one that opens nothing."),
            "403": said("The key does not have the scope, or its owner may not."),
            "404": said("Nothing is kept under this address."),
            "409": said("Held: finished, not whole, or changed meanwhile."),
            "422": said("Something is not as expected: the field, and what was."),
            "503": said("The record book or the printer does not answer just now."),
        },
    });
    if let Some(body) = body {
        v["requestBody"] = json!({"required": true, "content": body});
    }
    v
}

fn json_of(schema: Value) -> Value {
    json!({"application/json": {"schema": schema}})
}
fn list_of(name: &str, item: Value) -> Value {
    json_of(json!({"type": "object", "required": [name], "properties": {name: {"type": "array", "items": item}}}))
}
fn object() -> Value {
    json!({"type": "object"})
}
fn binary(kind: &str) -> Value {
    json!({kind: {"schema": {"type": "string", "format": "binary"}}})
}

/// A table: as text, or as objects under a name; with the columns that are known.
fn rows(name: &str, roles: &[Role], example: &str) -> Value {
    let fields: Map<String, Value> = roles
        .iter()
        .map(|r| (r.words[0].to_owned(), json!({"description": r.name, "type": ["string", "number", "null"]})))
        .collect();
    let needed: Vec<&str> = roles.iter().filter(|r| r.needed).map(|r| r.words[0]).collect();
    let item = json!({"type": "object", "required": needed, "properties": fields});
    let mut v = list_of(name, item);
    v["text/csv"] = json!({"schema": {"type": "string"}, "example": example});
    v
}

/// Every operation with a key.
pub fn paths() -> Map<String, Value> {
    let rebuild = json!({"type": "object", "required": ["id", "number", "title", "entries", "head"], "properties": {
        "id": {"type": "string", "format": "uuid"}, "number": {"type": "string"}, "title": {"type": "string"},
        "customer": {"type": "string"}, "from": {"type": "string", "description": "the shop that it came from with an archive"},
        "due_on": {"type": "string", "format": "date"}, "finished_at": {"type": ["string", "null"], "format": "date-time"},
        "entries": {"type": "integer"}, "head": {"type": "string", "description": "hash of the last entry of its record"}}});
    let look = || asked("look", "true: say what would happen, keep nothing", "boolean");
    let unit = || asked("unit", "mm, um or in: of figures that name none", "string");
    let line = json!({"type": "object", "required": ["line", "became"], "properties": {
        "line": {"type": "integer"}, "became": {"enum": ["new", "corrects", "same", "left", "asks", "wrong"]}, "why": {},
        "sheet": {"type": "string"}, "place": {"type": "string"}, "text": {"type": "string"},
        "value": {"type": ["number", "null"]}, "unit": {"type": "string"}, "instrument": {"type": "string"}}});
    let brought = json_of(json!({"type": "object", "required": ["kept", "lines"], "properties": {
        "kept": {"type": "integer"}, "lines": {"type": "array", "items": line}, "error": {"$ref": "#/components/schemas/Error"}}}));
    let leaf = json!({"type": "object", "required": ["um", "pieces"], "properties": {
        "um": {"type": "integer"}, "pieces": {"type": "integer"}}});
    let pattern = json!({"type": "object", "required": ["name", "bolts", "order"], "properties": {
        "name": {"type": "string"}, "bolts": {"type": "array", "items": object()},
        "order": {"type": "array", "items": {"type": "integer"}}}});
    let archive = json!({"type": "object", "required": ["rebuild", "number", "kept", "already"], "properties": {
        "rebuild": {"type": "string", "format": "uuid"}, "number": {"type": "string"}, "title": {"type": "string"},
        "from": {"type": "string"}, "entries": {"type": "integer"}, "head": {"type": "string"}, "readings": {"type": "integer"},
        "pictures": {"type": "integer"}, "already": {"type": "boolean"}, "kept": {"type": "boolean"}}});
    let (read, measure, take_in) = (Scope::Read, Scope::Measure, Scope::TakeIn);
    let file = json!({"text/csv": {"schema": {"type": "string"}}, "application/zip": {}, "image/svg+xml": {}, "application/pdf": {}});
    let find = [
        asked("find", "words of number, machine or customer", "string"),
        asked("finished", "true: those that are finished", "boolean"),
        asked("page", "from 1", "integer"),
    ];
    let readings = [
        id(),
        look(),
        asked("partly", "true: keep what can be kept; else all rows or none", "boolean"),
        asked("sheet", "sheet of rows that name none: SEAT/KIND or ACT/COMPUTATION", "string"),
        asked("instrument", "id of the instrument of rows that name none", "string"),
        asked("units", "metric or inch: of figures that name no unit", "string"),
        asked("reason", "why a seat that is signed is read again", "string"),
    ];
    let which = [
        id(),
        placed("file", "readings.csv, archive.zip, section.svg, certificate.pdf, travel-sheet.pdf or labels.pdf"),
        asked("size", "letter: PDF on Letter instead of A4", "string"),
    ];
    let named = [asked("name", "of the cover", "string"), unit()];
    let out = json!({
        "/api/rebuilds": {"get": operation("rebuilds", "Rebuilds by how soon they want a person", read, &list_of("rebuilds", rebuild.clone()), &find, None)},
        "/api/rebuilds/{id}": {"get": operation("rebuild", "A rebuild: its acts and what its sheets say", read, &json_of(rebuild), &[id()], None)},
        "/api/rebuilds/{id}/readings": {
            "get": operation("readings", "Every reading, in the columns of the CSV file", read, &list_of("readings", object()), &[id()], None),
            "post": operation("readings_in", "Readings in, by the rules by which they are typed", measure, &brought, &readings,
                Some(rows("readings", &ROLES, "key;cell;value;unit;instrument\r\nde/journal;A1;40.012;mm;MQ-022\r\n"))),
        },
        "/api/rebuilds/{id}/files/{file}": {"get": operation("file", "A file of a rebuild", read, &file, &which, None)},
        "/api/archives": {"post": operation("archive_in", "A rebuild in from its archive, whole or not at all", take_in, &json_of(archive), &[look()], Some(binary("application/zip")))},
        "/api/stock/leaves": {
            "get": operation("leaves", "Shim leaves in the drawer", read, &list_of("leaves", leaf.clone()), &[], None),
            "post": operation("leaves_in", "What lies in the drawer, said anew", take_in, &list_of("leaves", leaf), &[unit()],
                Some(rows("leaves", &LEAVES, "thickness mm;pieces\r\n0.10;4\r\n"))),
        },
        "/api/stock/patterns": {
            "get": operation("patterns", "Covers with the places of their bolts and their order", read, &list_of("patterns", pattern.clone()), &[], None),
            "post": operation("pattern_in", "Where the bolts of a cover stand; one of the same name is replaced", take_in, &json_of(pattern), &named,
                Some(rows("bolts", &BOLTS, "x mm;y mm\r\n0;0\r\n90;60\r\n"))),
        },
        "/api/archive.schema.json": {"get": {
            "operationId": "archive_schema", "tags": ["rebuilds"], "summary": "JSON Schema of rebuild.json in an archive",
            "responses": {"200": {"description": "The schema.", "content": {"application/schema+json": {"schema": object()}}}},
        }},
    });
    out.as_object().cloned().unwrap_or_default()
}

/// How a key is shown.
pub fn security() -> Value {
    json!({"key": {"type": "http", "scheme": "bearer", "description": "A key that is made under “Keys for other programs”."}})
}

/// The document of an archive.
pub fn document() -> Value {
    let mut v: Value = serde_json::from_str(SCHEMA).unwrap_or_default();
    if let Some(o) = v.as_object_mut() {
        o.remove("$schema");
    }
    v
}
