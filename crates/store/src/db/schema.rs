//! Tables as Diesel sees them. JSON columns are read as text and parsed once.

diesel::table! { people (id) {
    id -> Binary, handle -> Text, name -> Text, initials -> Text, role -> Text, password_hash -> Text, pin_hash -> Nullable<Text>, units -> Text, theme -> Text, code_hash -> Nullable<Text>, code_until -> Nullable<Datetime>, put_away_at -> Nullable<Datetime>, customer_id -> Nullable<Binary>,
} }
diesel::table! { sessions (id) { id -> Text, record -> Text, expires_at -> Datetime, } }
diesel::table! { sign_in_failures (id) { id -> BigInt, handle -> Text, at -> Datetime, address -> Text, } }
diesel::table! { shops (id) { id -> SmallInt, name -> Text, demo -> Bool, rules -> Text, revision -> Integer, zone -> Text, } }
diesel::table! { instruments (id) {
    id -> Binary, name -> Text, outside -> Bool, inside -> Bool, depth -> Bool, lo_mm -> Double, hi_mm -> Double, resolution_mm -> Double, u_mm -> Double, cost -> Double, due_on -> Date, serial -> Text, origin -> Text, away -> Text,
} }
diesel::table! { tools (id) { id -> Binary, name -> Text, bore_mm -> Double, outside_mm -> Double, length_mm -> Double, } }
diesel::table! { presses (id) { id -> Binary, name -> Text, capacity_n -> Double, } }
diesel::table! { anatomies (id) { id -> Binary, type_key -> Text, version -> Integer, name -> Text, document -> Text, origin -> Text, } }
diesel::table! { rebuilds (id) {
    id -> Binary, number -> Text, title -> Text, customer -> Text, anatomy_id -> Binary, due_on -> Date, finished_at -> Nullable<Datetime>, derivation -> Integer, customer_id -> Nullable<Binary>, serial -> Text, #[sql_name = "journal_seq"] record_seq -> Integer, #[sql_name = "journal_hash"] record_hash -> Text, origin -> Text,
} }
diesel::table! { steps (id) {
    id -> Binary, rebuild_id -> Binary, seat -> Text, kind -> Text, position -> Integer, done -> Bool, done_by -> Nullable<Binary>, done_at -> Nullable<Datetime>, detail -> Text,
} }
diesel::table! { sheets (id) { id -> Binary, rebuild_id -> Binary, seat -> Text, kind -> Text, instrument_id -> Nullable<Binary>, act -> Text, given -> Nullable<Text>, } }
diesel::table! { readings (id) {
    id -> Binary, sheet_id -> Binary, cell -> Text, seq -> Integer, value -> Double, typed -> Text, expected -> Nullable<Double>, instrument_id -> Nullable<Binary>, person_id -> Binary, at -> Datetime,
} }
diesel::table! { calls (id) {
    id -> Binary, rebuild_id -> Binary, seat -> Text, topic -> Text, verdict -> Text, document -> Text, overruled_by -> Nullable<Binary>, overrule_reason -> Text, at -> Datetime,
} }
diesel::table! { clocks (id) {
    id -> Binary, rebuild_id -> Binary, seat -> Text, kind -> Text, label -> Text, started_at -> Datetime, seconds -> Integer, ended_at -> Nullable<Datetime>, person_id -> Binary, step -> Text,
} }
diesel::table! { sign_offs (id) { id -> Binary, rebuild_id -> Binary, seat -> Text, person_id -> Binary, role -> Text, said -> Text, at -> Datetime, } }
// The chained record has kept the name of its table from the first version.
diesel::table! { #[sql_name = "journal"] record (id) {
    id -> BigInt, rebuild_id -> Binary, seq -> Integer, at -> Datetime, person_id -> Binary, kind -> Text, body -> Text, bound -> Text, prev_hash -> Text, hash -> Text,
} }
diesel::table! { customers (id) { id -> Binary, name -> Text, contact -> Text, } }
diesel::table! { shop_chains (name) { name -> Text, seq -> Integer, hash -> Text, } }
diesel::table! { #[sql_name = "shop_journal"] shop_record (chain, seq) {
    chain -> Text, seq -> Integer, at -> Datetime, person -> Text, said -> Text, bound -> Text, prev_hash -> Text, hash -> Text,
} }

diesel::table! { drafts (id) { id -> Binary, type_key -> Text, name -> Text, cursor_at -> Integer, person_id -> Binary, changed_at -> Datetime, } }
diesel::table! { draft_states (draft_id, seq) { draft_id -> Binary, seq -> Integer, said -> Text, document -> Text, } }
diesel::table! { ticks (rebuild_id, step) { rebuild_id -> Binary, step -> Text, person_id -> Binary, second_name -> Text, at -> Datetime, value -> Nullable<Double>, reason -> Text, readings -> Text, faces -> Text, } }
diesel::table! { rounds (rebuild_id, n) { rebuild_id -> Binary, n -> Integer, document -> Text, person_id -> Binary, at -> Datetime, } }
diesel::table! { answers (rebuild_id, question) { rebuild_id -> Binary, question -> Text, state -> Text, value -> Text, note -> Text, person_id -> Binary, at -> Datetime, } }
diesel::table! { scrapped (rebuild_id, part, at) { rebuild_id -> Binary, part -> Text, at -> Datetime, } }
diesel::table! { repairs (id) { id -> Binary, rebuild_id -> Binary, part -> Text, what -> Text, person_id -> Binary, at -> Datetime, taken_back_at -> Nullable<Datetime>, } }
diesel::table! { pictures (id) {
    id -> Binary, rebuild_id -> Binary, question -> Text, width -> Integer, height -> Integer, bytes -> Integer, sha256 -> Text, person_id -> Binary, at -> Datetime, taken_away_at -> Nullable<Datetime>,
} }
diesel::table! { picture_bodies (picture_id) { picture_id -> Binary, whole -> Blob, small -> Blob, } }

diesel::table! { tokens (id) {
    id -> Binary, person_id -> Binary, name -> Text, scopes -> Text, secret_hash -> Text, made_at -> Datetime, used_at -> Nullable<Datetime>, put_away_at -> Nullable<Datetime>,
} }
diesel::table! { uploads (id) { id -> Binary, person_id -> Binary, kind -> Text, name -> Text, at -> Datetime, } }
diesel::table! { upload_parts (upload_id, n) { upload_id -> Binary, n -> Integer, body -> Blob, } }
diesel::table! { leaves (um) { um -> Integer, pieces -> Integer, } }
diesel::table! { bolt_patterns (id) { id -> Binary, name -> Text, document -> Text, } }

diesel::table! { dispositions (id) { id -> Binary, rebuild_id -> Binary, part -> Text, fate -> Text, reason -> Text, marks -> Text, person_id -> Binary, at -> Datetime, } }

diesel::joinable!(dispositions -> people (person_id));
diesel::joinable!(tokens -> people (person_id));
diesel::joinable!(repairs -> people (person_id));
diesel::table! { pins (id) {
    id -> Binary, rebuild_id -> Binary, name -> Text, about -> Text, document -> Text, replaces -> Nullable<Binary>, person_id -> Binary, at -> Datetime, taken_away_at -> Nullable<Datetime>,
} }
diesel::joinable!(pins -> people (person_id));
diesel::joinable!(pictures -> people (person_id));
diesel::joinable!(picture_bodies -> pictures (picture_id));
diesel::joinable!(ticks -> people (person_id));
diesel::joinable!(answers -> people (person_id));
diesel::joinable!(rebuilds -> anatomies (anatomy_id));
diesel::joinable!(sheets -> rebuilds (rebuild_id));
diesel::joinable!(readings -> sheets (sheet_id));
diesel::joinable!(readings -> people (person_id));
diesel::joinable!(clocks -> rebuilds (rebuild_id));
diesel::joinable!(sign_offs -> people (person_id));
diesel::joinable!(record -> people (person_id));
diesel::joinable!(record -> rebuilds (rebuild_id));
diesel::allow_tables_to_appear_in_same_query!(
    people,
    anatomies,
    rebuilds,
    steps,
    sheets,
    readings,
    calls,
    clocks,
    sign_offs,
    record,
    instruments,
    ticks,
    answers,
    repairs,
    pictures,
    picture_bodies,
    shop_chains,
    shops,
    pins,
    tokens,
    dispositions,
    rounds
);
