//! The computations by the question that is asked at the bench, in the order of the work.

/// Questions of one part of the work: each with the name that answers it.
pub type Part = (&'static str, &'static [(&'static str, &'static str)]);

/// All of them; each computation answers one.
pub const QUESTIONS: [Part; 8] = [
    (
        "Measure",
        &[
            ("Is the journal round, straight and to size?", "journal.grid"),
            ("Is it inside its limits?", "judge"),
            ("Is this instrument good enough?", "gauge.capable"),
            ("Do the repeats agree?", "readings.repeat"),
            ("How long is it at 20 °C?", "length.at_twenty"),
            ("Where are the limits of this class?", "iso286.limits"),
            ("What bearing is this?", "bearing.read"),
            ("What tolerance has the ring?", "bearing.ring_tolerance"),
            ("How much clearance has it before fitting?", "bearing.clearance"),
            ("Has the journal lobes?", "vee.sweep"),
            ("How much does the vee block show of the lobes?", "vee.factor"),
            ("Does the land still carry its ring?", "land.marks"),
            ("Are these two rings alike?", "parts.compare"),
            ("What is that in the other unit?", "length.parse"),
        ],
    ),
    (
        "Fit",
        &[
            ("What class of fit does it want?", "fit.advise"),
            ("Will it press?", "fit.press"),
            ("How hot, and how hot at most?", "heat.target"),
            ("How long before it grips?", "heat.cooling"),
            ("What clearance is left?", "fit.clearance_left"),
            ("Was it home?", "press.trace"),
            ("How warm must the housing be to let go?", "heat.frees"),
            ("What oil pressure moves it, and what holds it?", "fit.hydraulic"),
            ("May the collar be let go?", "hydraulic.driven"),
            ("How far up the taper?", "fit.drive_up"),
            ("How does it come off?", "removal.ways"),
            ("Is the puller still safe?", "removal.pull"),
            ("What bore has the bush when it is in?", "bush.closing"),
            ("Did the bush close as it should?", "bush.closed"),
            ("Which bush goes into which hole?", "pairs.match"),
        ],
    ),
    (
        "True up",
        &[
            ("Is it bent or is it dirt?", "runout.stations"),
            ("Is the shaft straight?", "runout.straightness"),
            ("Where is the high spot, and what is only shape?", "runout.sweep"),
            ("Is the face square, or is it warped?", "runout.face"),
            ("How do I turn one high spot against the other?", "runout.clocking"),
        ],
    ),
    (
        "Set axially",
        &[
            ("How much off the shim?", "float.shim"),
            ("Which leaves make up this thickness?", "shim.stock"),
            ("How do I set several shims together?", "axial.two_shims"),
            ("Does the rotor stand where it should?", "rotor.position"),
            ("Is the flinger backed off?", "flinger.back_off"),
            ("Is the wheel in the middle?", "gap.around"),
            ("Is the wear ring worn?", "wear_ring"),
            ("Does the key stand clear of its hub?", "key.clearance"),
            ("Does the chain of sizes close?", "stack.chain"),
        ],
    ),
    (
        "Preload",
        &[
            ("What do these spacers give, and what is ground off?", "preload.spacers"),
            ("What is left of the preload under load?", "preload.pair"),
            ("What does this bearing carry when it is pushed so far?", "preload.bearing"),
            ("What preload is really there?", "preload.push_test"),
            ("Is the drag right?", "preload.drag"),
            ("How far do I turn the nut?", "taper.nut"),
            ("Which slot?", "nut.slots"),
            ("Does the old match mark still hold?", "nut.match_mark"),
            ("Which leaves come out from under the cap?", "plain.caps"),
            ("Does the expander fill its bore?", "plain.expander"),
        ],
    ),
    (
        "Torque and lock",
        &[
            ("What torque gives this clamp force?", "torque.value"),
            ("What if the figure is for another surface?", "torque.other_surface"),
            ("Where do I set the wrench with an extension?", "torque.extension"),
            ("In what order, and in what rounds?", "torque.order"),
            ("And when the cover is no circle?", "torque.pattern"),
            ("Which hand of thread?", "thread.hand"),
            ("Does the soft thread carry the bolt?", "thread.proof"),
        ],
    ),
    (
        "Seal and close",
        &[
            ("Does the lip stand the speed?", "seal.speed"),
            ("Does the lip stand straight?", "seal.tilt"),
            ("Where does the new lip run?", "seal.track"),
            ("Does the O-ring fit its groove?", "oring.gland"),
            ("Is the split ring free?", "seal.split_ring"),
            ("How many rings go into the stuffing box?", "packing.rings"),
            ("How much grease?", "grease.fill"),
            ("How far off does the probe stand?", "probe.gap"),
            ("Are the wires whole?", "wires.compare"),
        ],
    ),
    (
        "Order and run in",
        &[
            ("What goes on before what?", "order.solve"),
            ("What comes off again for a forgotten part?", "order.back_out"),
            ("At what speeds is it run in, and how long?", "runin.plan"),
            ("May the next step of the run-in begin?", "runin.step"),
            ("What is done when, with so many hands?", "plan.solve"),
        ],
    ),
];

/// The question that a computation answers.
#[must_use]
pub fn question(name: &str) -> &'static str {
    QUESTIONS.iter().flat_map(|p| p.1).find(|q| q.1 == name).map_or("", |q| q.0)
}

/// Figures that a question asks for, in their order; those of a sheet stand with its declaration.
pub(crate) const HEADLINES: [(&str, &[&str]); 10] = [
    ("iso286.limits", &["lower_um", "upper_um"]),
    ("fit.press", &["stop_force_n"]),
    ("heat.target", &["target_c", "needed_c", "cap_c"]),
    ("heat.cooling", &["grip_s", "target_s", "grip_c"]),
    ("stack.chain", &["middle_mm", "rss_half_mm", "mc_inside"]),
    ("preload.pair", &["load_right_n", "load_left_n", "shift_um", "liftoff_n"]),
    ("preload.bearing", &["fa_n", "approach_um", "stiffness_n_um"]),
    ("torque.value", &["torque_nm", "force_n"]),
    ("grease.fill", &["top_up_g"]),
    ("order.solve", &["order", "pairs"]),
];
