"""The law table: every rule with a brief it holds in, and what the spec must then say because of it.

Each line is tried with the rule and without it: with it everything said must hold, without it nothing.
"""

from __future__ import annotations

LAW: dict[str, tuple[str, tuple[str, ...]]] = {
    "football.plate.soft_natural": (
        "football match surface=soft_natural",
        ("score plate firm_ground_round <= 0.426", "score plate firm_ground_blade <= 0.425"),
    ),
    "football.plate.firm_natural": (
        "football match surface=firm_natural",
        (
            "score plate firm_ground_blade >= 0.941",
            "score plate hard_ground <= 0.589",
        ),
    ),
    "football.plate.hard_natural": (
        "football match surface=hard_natural",
        ("first plate hard_ground", "score plate turf <= 0.726", "score plate artificial_grass <= 0.729"),
    ),
    "football.plate.artificial_grass": (
        "football match surface=artificial_grass",
        ("first plate artificial_grass", "score plate firm_ground_round <= 0.645", "score plate hard_ground <= 0.54"),
    ),
    "football.plate.carpet_turf": (
        "football match surface=carpet_turf",
        ("score plate artificial_grass <= 0.391", "score plate indoor <= 0.413"),
    ),
    "football.plate.indoor_hall": ("football match surface=indoor_hall", ("score plate turf <= 0.295",)),
    "football.grip.soft_ground": (
        "football match surface=soft_natural",
        ("score plate firm_ground_round <= 0.426", "score plate firm_ground_blade <= 0.425"),
    ),
    "football.grip.firm_ground_round": (
        "football match surface=soft_natural",
        ("score plate firm_ground_round >= 0.426",),
    ),
    "football.grip.firm_ground_blade": (
        "football match surface=soft_natural",
        ("score plate firm_ground_blade >= 0.425",),
    ),
    "football.grip.hard_ground": ("football match surface=firm_natural", ("score plate hard_ground >= 0.589",)),
    "football.grip.artificial_grass": (
        "football match surface=firm_natural",
        ("score plate artificial_grass >= 0.504",),
    ),
    "football.grip.turf": ("football match surface=firm_natural", ("score plate turf >= 0.286",)),
    "football.grip.indoor": ("football match surface=carpet_turf", ("score plate indoor >= 0.413",)),
    "football.no_soft_ground_off_grass": ("football match surface=artificial_grass", ("veto plate soft_ground",)),
    "football.no_soft_ground_on_hard": ("football match surface=hard_natural", ("veto plate soft_ground",)),
    "football.no_studs_in_hall": (
        "football match surface=indoor_hall",
        ("veto plate firm_ground_round", "veto plate firm_ground_blade", "veto plate hard_ground"),
    ),
    "football.no_flat_on_grass": ("football match surface=artificial_grass", ("veto plate indoor",)),
    "football.knee_no_blades": (
        "football match surface=soft_natural history=knee",
        ("veto plate firm_ground_blade",),
    ),
    "football.knee_round": (
        "football match surface=soft_natural history=knee",
        ("says", "score plate firm_ground_round >= 0.5"),
    ),
    "football.turf_on_artificial": ("football match surface=artificial_grass", ("veto plate turf",)),
    "football.turf_wet": ("football match surface=firm_natural wet=yes", ("score plate turf <= 0",)),
    "football.wet_firm": ("football match surface=firm_natural wet=yes", ("score plate soft_ground >= 0.515",)),
    "football.spare_joints": ("football match surface=hard_natural history=knee", ("first plate turf",)),
    "football.venue_rules": ("football match surface=soft_natural", ("says",)),
    "football.mass.match": ("football match surface=soft_natural", ("band mass_g 160 to 250",)),
    "football.mass.other": ("football training surface=soft_natural", ("band mass_g 200 to 330",)),
    "football.bend": ("football match surface=soft_natural", ("band bend_n_mm_per_deg 140 to 320",)),
    "football.bend_heavy": (
        "football match surface=soft_natural body_kg=95",
        ("low bend_n_mm_per_deg >= 180", "high bend_n_mm_per_deg >= 380"),
    ),
    "football.counter": ("football match surface=soft_natural", ("band heel_counter 5 to 9",)),
    "football.cushion": ("football match surface=soft_natural", ("band cushion 1 to 4",)),
    "football.cushion_hard": ("football match surface=hard_natural", ("low cushion >= 2.5", "high cushion >= 6")),
    "football.heel_pain": (
        "football match surface=soft_natural history=heel_pain",
        ("low cushion >= 2", "high cushion >= 6"),
    ),
    "football.ankle": (
        "football match surface=soft_natural history=ankle",
        ("low heel_counter >= 6.5", "high heel_counter >= 10"),
    ),
    "football.closure": (
        "football match surface=soft_natural",
        ("first closure laces", "score closure laceless >= 0.55", "score closure strap_1 >= 0.3"),
    ),
    "football.odd_feet": ("football match surface=soft_natural feet=odd", ("veto closure laceless",)),
    "football.uppers": (
        "football match surface=soft_natural",
        ("first upper leather_thin", "score upper synthetic >= 1", "score upper microfibre >= 1"),
    ),
    "football.feel_leather": (
        "football match surface=soft_natural feel=leather",
        ("score upper leather_lined >= 0.955", "score upper leather_unlined >= 0.955", "score upper suede >= 0.364"),
    ),
    "football.feel_synthetic": (
        "football match surface=soft_natural feel=synthetic",
        ("first upper microfibre", "score upper knit >= 0.909", "score upper mesh >= 0.364"),
    ),
    "football.bunion": ("football match surface=soft_natural feet=odd", ("score upper leather_unlined >= 0.958",)),
    "football.toe_room": ("football match surface=soft_natural", ("band toe_room_mm 8 to 14",)),
    "football.toe_room_leather": ("football match surface=soft_natural", ("band toe_room_leather_mm 2 to 7",)),
    "football.room": (
        "football match surface=soft_natural",
        ("band ball_room_mm -7 to 4", "band instep_room_mm -9 to 5", "band heel_room_mm -3.5 to 2"),
    ),
    "football.blades_catch": ("football match surface=artificial_grass", ("score plate firm_ground_blade <= 0.192",)),
    "football.nubs_for_some": ("football casual surface=hard_natural", ("score plate turf >= 0.955",)),
    "football.forefoot": (
        "football match surface=firm_natural history=forefoot",
        ("first plate hard_ground", "score plate artificial_grass >= 0.905", "score plate turf >= 0.546"),
    ),
    "football.same_last": ("football match surface=soft_natural also=training:40:artificial_grass", ("says",)),
    "football.twist": ("football match surface=soft_natural", ("band twist_n_mm_per_deg 130 to 330",)),
    "football.ankle_sides": (
        "football match surface=soft_natural history=ankle",
        ("low twist_n_mm_per_deg >= 170", "high twist_n_mm_per_deg >= 370", "weight twist_n_mm_per_deg >= 0.8"),
    ),
    "football.collar_low": ("football match surface=soft_natural", ("band collar_mm 45 to 80",)),
    "football.collar_high": ("football match surface=soft_natural school.ankle=high", ("band collar_mm 80 to 130",)),
    "football.full_foot": (
        "football match surface=soft_natural feet=high_volume",
        ("score upper leather_unlined >= 0.947", "score upper knit <= 0.789"),
    ),
    "football.slim_foot": ("football match surface=soft_natural feet=low_volume", ("first upper microfibre",)),
    "football.often": (
        "football match surface=soft_natural sessions_per_week=5",
        ("first upper leather_lined", "weight mass_g <= 0.3", "score upper leather_unlined >= 1"),
    ),
    "football.first_wear": ("football match surface=soft_natural event_on=2026-12-20", ("says",)),
    "caution.numbness": ("football match surface=soft_natural history=numbness", ("must",)),
    "caution.diabetes": ("football match surface=soft_natural history=diabetes", ("must",)),
    "caution.surgery": ("football match surface=soft_natural history=surgery", ("must",)),
    "caution.wounds": ("football match surface=soft_natural feet=wounds", ("must",)),
    "caution.feet_pain": ("football match surface=soft_natural feet=pain", ("must",)),
    "caution.feet_circulation": ("football match surface=soft_natural feet=circulation", ("must",)),
    "caution.feet_surgery": ("football match surface=soft_natural feet=surgery", ("must",)),
    "caution.growing_pains": ("football match surface=soft_natural feet=growing_pains", ("must",)),
    "caution.pain": ("football match surface=soft_natural history=heel_pain", ("says",)),
    "caution.build_up": ("football match surface=soft_natural", ("says",)),
    "caution.no_oven": ("football match surface=soft_natural level=new", ("says",)),
    "feet.narrow_heel": (
        "football match surface=soft_natural feet=narrow_heel",
        ("score closure laces_strap >= 0.167",),
    ),
    "feet.wide_fore_narrow_heel": ("football match surface=soft_natural feet=wedge", ("says",)),
    "feet.long_thin": ("football match surface=soft_natural feet=thin", ("says",)),
    "feet.low_volume": ("football match surface=soft_natural feet=low_volume", ("says",)),
    "feet.high_volume": ("football match surface=soft_natural feet=high_volume", ("says",)),
    "feet.flat_structure": (
        "football match surface=soft_natural feet=flat",
        ("low twist_n_mm_per_deg >= 180", "high twist_n_mm_per_deg >= 380", "low heel_counter >= 5.5"),
    ),
    "feet.high_arch": (
        "football match surface=soft_natural feet=high_arch",
        ("low cushion >= 1.5", "high cushion >= 4.5"),
    ),
    "growing.room": (
        "football match surface=soft_natural growing=yes",
        ("high toe_room_mm >= 18", "high toe_room_leather_mm >= 11"),
    ),
    "growing.measure": ("football match surface=soft_natural growing=yes", ("says",)),
    "climbing.terrain.first_shoe": (
        "climbing first_shoe",
        ("band downturn_deg 0 to 3", "band asymmetry_deg 0 to 6", "band toe_rubber 0.1 to 0.5"),
    ),
    "climbing.terrain.indoor_general": (
        "climbing indoor_general",
        ("band downturn_deg 0 to 8", "band asymmetry_deg 3 to 10", "band toe_rubber 0.2 to 0.7"),
    ),
    "climbing.terrain.indoor_boulder": (
        "climbing indoor_boulder",
        ("band downturn_deg 10 to 22", "band asymmetry_deg 8 to 18", "band toe_rubber 0.6 to 1"),
    ),
    "climbing.terrain.outdoor_boulder": (
        "climbing outdoor_boulder",
        ("band downturn_deg 8 to 20", "band asymmetry_deg 8 to 18", "band toe_rubber 0.4 to 0.9"),
    ),
    "climbing.terrain.steep_sport": (
        "climbing steep_sport",
        ("band downturn_deg 15 to 28", "band asymmetry_deg 10 to 20", "band toe_rubber 0.4 to 0.9"),
    ),
    "climbing.terrain.technical_edging": (
        "climbing technical_edging",
        ("band downturn_deg 0 to 8", "band asymmetry_deg 6 to 14", "band toe_rubber 0.1 to 0.5"),
    ),
    "climbing.terrain.gritstone": (
        "climbing gritstone",
        ("band downturn_deg 2 to 10", "band asymmetry_deg 4 to 12", "band toe_rubber 0.3 to 0.8"),
    ),
    "climbing.terrain.sandstone_slab": (
        "climbing sandstone_slab",
        ("band downturn_deg 0 to 4", "band asymmetry_deg 2 to 8", "band toe_rubber 0.1 to 0.4"),
    ),
    "climbing.terrain.trad": (
        "climbing trad",
        ("band downturn_deg 0 to 6", "band asymmetry_deg 2 to 8", "band toe_rubber 0.1 to 0.5"),
    ),
    "climbing.terrain.multi_pitch": (
        "climbing multi_pitch",
        ("band downturn_deg 0 to 5", "band asymmetry_deg 0 to 7", "band toe_rubber 0.1 to 0.5"),
    ),
    "climbing.terrain.board": (
        "climbing board",
        ("band downturn_deg 15 to 28", "band asymmetry_deg 10 to 20", "band toe_rubber 0.6 to 1"),
    ),
    "climbing.terrain.mileage": (
        "climbing mileage",
        ("band downturn_deg 0 to 5", "band asymmetry_deg 0 to 7", "band toe_rubber 0.1 to 0.5"),
    ),
    "climbing.toe_room": ("climbing first_shoe", ("band toe_room_mm -3 to 0",)),
    "climbing.leather_room": (
        "climbing first_shoe school.leather_give=quarter_size",
        ("band toe_room_leather_mm -5 to -2",),
    ),
    "climbing.stiffness": ("climbing first_shoe", ("band bend_n_mm_per_deg 110 to 160",)),
    "climbing.tight_school": (
        "climbing indoor_boulder school.climbing_fit=performance_tight",
        ("low toe_room_mm <= -12", "high toe_room_mm <= -7"),
    ),
    "climbing.never_numb": (
        "climbing indoor_general history=numbness",
        ("low toe_room_mm >= -3", "high toe_room_mm >= 1"),
    ),
    "climbing.midsole_full": ("climbing first_shoe", ("first midsole full", "score midsole split >= 0.4")),
    "climbing.midsole_split": (
        "climbing indoor_boulder",
        ("score midsole none <= 0.591", "score midsole full >= 0.182"),
    ),
    "climbing.midsole_plain": (
        "climbing indoor_general",
        ("first midsole full", "score midsole split >= 0.833", "score midsole none >= 0.333"),
    ),
    "climbing.heel_rubber": ("climbing first_shoe", ("band heel_rubber 0.2 to 0.9",)),
    "climbing.heel_hooks": ("climbing indoor_boulder", ("low heel_rubber >= 0.55", "high heel_rubber >= 1")),
    "climbing.closure_fast": (
        "climbing indoor_boulder",
        ("first closure strap_1", "score closure slipper <= 0.864", "score closure strap_2 >= 0.636"),
    ),
    "climbing.closure_heel": (
        "climbing indoor_boulder school.boulder_closure=laces",
        ("first closure laces", "score closure strap_1 >= 0.8", "score closure strap_2 >= 0.6"),
    ),
    "climbing.closure_long": (
        "climbing trad",
        ("first closure laces", "score closure strap_2 >= 0.6", "score closure strap_3 >= 0.6"),
    ),
    "climbing.closure_plain": (
        "climbing first_shoe",
        ("first closure laces", "score closure strap_2 >= 1", "score closure strap_1 >= 0.875"),
    ),
    "climbing.odd_feet": ("climbing indoor_boulder feet=odd", ("score closure laces >= 0.818",)),
    "climbing.uppers": (
        "climbing first_shoe",
        ("score upper leather_unlined >= 0.947", "score upper suede >= 0.895", "score upper microfibre >= 0.789"),
    ),
    "climbing.upper_all_day": (
        "climbing first_shoe",
        ("first upper leather_lined", "score upper leather_unlined >= 0.947", "score upper suede <= 0.895"),
    ),
    "climbing.upper_hold": ("climbing indoor_boulder", ("score upper synthetic <= 0.905",)),
    "climbing.bunion": (
        "climbing first_shoe feet=odd",
        ("first upper leather_unlined", "high asymmetry_deg <= 2", "score upper suede >= 0.923"),
    ),
    "climbing.room": (
        "climbing first_shoe",
        ("band ball_room_mm -12 to 0", "band instep_room_mm -12 to 2", "band heel_room_mm -5 to 0.5"),
    ),
    "climbing.swell": ("climbing multi_pitch", ("low ball_room_mm >= -10", "high ball_room_mm >= 4")),
    "climbing.not_safety": ("climbing first_shoe", ("says",)),
    "climbing.tight_ack": ("climbing indoor_boulder school.climbing_fit=performance_tight", ("must",)),
    "climbing.tiny_edges_steep": (
        "climbing steep_sport edge_mm=6",
        ("low bend_n_mm_per_deg >= 210", "high bend_n_mm_per_deg >= 285"),
    ),
    "climbing.stance_first": ("climbing trad stance_min=6", ("weight bend_n_mm_per_deg >= 2.16",)),
    "climbing.counter": ("climbing first_shoe", ("band heel_counter 3 to 9",)),
    "climbing.counter_hooks": (
        "climbing indoor_boulder",
        ("low heel_counter >= 5", "high heel_counter >= 10", "weight heel_counter >= 0.8"),
    ),
    "climbing.split_strong": (
        "climbing indoor_general toe_strength=strong",
        ("first midsole split", "score midsole none >= 0.5"),
    ),
    "climbing.toe_hooks": ("climbing indoor_boulder", ("score closure slipper >= 0.864",)),
    "climbing.smears_not_hooked": ("climbing gritstone", ("weight downturn_deg >= 1.4",)),
    "climbing.soft_rounds": ("climbing indoor_boulder", ("score midsole none >= 0.591",)),
    "climbing.forefoot": (
        "climbing indoor_boulder history=forefoot",
        ("low downturn_deg <= 0", "high downturn_deg <= 12"),
    ),
    "climbing.achilles": ("climbing first_shoe history=achilles", ("says",)),
    "climbing.growing": (
        "climbing first_shoe growing=yes",
        ("low toe_room_mm >= -2", "high toe_room_mm >= 1", "must"),
    ),
    "climbing.slippers_loosen": ("climbing trad", ("score closure slipper <= 0.1",)),
    "climbing.full_foot": (
        "climbing first_shoe feet=high_volume",
        ("score closure strap_3 >= 0.517", "score closure strap_2 >= 0.621"),
    ),
    "climbing.train_old": ("climbing board", ("says",)),
    "climbing.train_same": (
        "climbing mileage school.training_pair=same_shoe",
        ("low downturn_deg >= 4", "high downturn_deg >= 13", "low toe_room_mm <= -5"),
    ),
    "climbing.train_comfort": (
        "climbing mileage school.training_pair=separate_comfort",
        ("weight downturn_deg >= 1.4", "low toe_room_mm >= -2.5", "high toe_room_mm >= 1"),
    ),
    "climbing.inspect_hook": ("climbing indoor_boulder", ("says",)),
    "climbing.first_pair": ("climbing first_shoe budget=200", ("says",)),
    "climbing.leather_lasts": (
        "climbing first_shoe sessions_per_week=5",
        ("score upper leather_unlined >= 0.955", "score upper suede >= 0.909"),
    ),
    "growing.no_room": ("climbing first_shoe growing=yes", ("says",)),
    "lifting.heel.olympic": ("lifting olympic", ("band drop_mm 13 to 19",)),
    "lifting.heel.squat": ("lifting powerlifting_squat", ("band drop_mm 2 to 7",)),
    "lifting.heel.deadlift": ("lifting deadlift", ("band drop_mm 0 to 2",)),
    "lifting.heel.general": ("lifting general_strength", ("band drop_mm 0 to 4",)),
    "lifting.heel.mixed": ("lifting mixed_training", ("band drop_mm 3 to 5",)),
    "lifting.heel.running": ("lifting gym_running", ("band drop_mm 6 to 11",)),
    "lifting.cushion.load": ("lifting olympic", ("band cushion 0 to 2",)),
    "lifting.cushion.mixed": ("lifting mixed_training", ("band cushion 2 to 4.5",)),
    "lifting.cushion.running": ("lifting gym_running", ("band cushion 5 to 8.5",)),
    "lifting.bend.load": ("lifting olympic", ("band bend_n_mm_per_deg 420 to 800",)),
    "lifting.bend.flat": ("lifting deadlift", ("band bend_n_mm_per_deg 120 to 450",)),
    "lifting.bend.free_toe": ("lifting mixed_training", ("band bend_n_mm_per_deg 80 to 240",)),
    "lifting.stack.deadlift": ("lifting deadlift", ("band heel_stack_mm 2 to 14",)),
    "lifting.counter": ("lifting olympic", ("band heel_counter 5 to 10",)),
    "lifting.ankle": ("lifting olympic history=ankle", ("low heel_counter >= 7",)),
    "lifting.sole.load": ("lifting olympic", ("first sole flat_dense", "score sole gum_court >= 0.3")),
    "lifting.sole.mixed": (
        "lifting mixed_training",
        ("first sole grip_flat", "score sole flat_dense >= 0.7", "score sole gum_court >= 0.5"),
    ),
    "lifting.closure.strap": (
        "lifting olympic",
        ("first closure laces_strap", "score closure strap_2 >= 0.8", "score closure strap_1 >= 0.7"),
    ),
    "lifting.closure.flat": (
        "lifting deadlift",
        ("first closure laces", "score closure strap_1 >= 0.6", "score closure strap_2 >= 0.5"),
    ),
    "lifting.uppers": (
        "lifting olympic",
        ("first upper synthetic", "score upper leather_lined >= 0.875", "score upper mesh >= 0.625"),
    ),
    "lifting.upper_light": ("lifting mixed_training", ("first upper mesh", "score upper knit >= 0.65")),
    "lifting.toe_room.mixed": ("lifting mixed_training", ("band toe_room_mm 8 to 13",)),
    "lifting.toe_room.running": ("lifting gym_running", ("band toe_room_mm 10 to 15",)),
    "lifting.toe_room.load": ("lifting olympic", ("band toe_room_mm 8 to 14",)),
    "lifting.room.load": (
        "lifting olympic",
        ("band ball_room_mm -6 to 5", "band instep_room_mm -9 to 4", "band heel_room_mm -3.5 to 1.5"),
    ),
    "lifting.room.free": (
        "lifting mixed_training",
        ("band ball_room_mm -3 to 9", "band instep_room_mm -7 to 7", "band heel_room_mm -3 to 2"),
    ),
    "lifting.achilles": ("lifting deadlift history=achilles", ("says",)),
    "lifting.runs_often": ("lifting gym_running sessions_per_week=5", ("says",)),
    "lifting.not_safety": ("lifting olympic", ("says",)),
    "lifting.equipment_rules": ("lifting olympic level=competitive", ("says",)),
    "lifting.wedge_first": ("lifting powerlifting_squat level=new", ("says",)),
    "lifting.not_to_run_in": ("lifting olympic", ("says",)),
    "lifting.max_loads": (
        "lifting olympic level=competitive",
        ("low ball_room_mm <= -8", "high ball_room_mm <= 2", "low instep_room_mm <= -11"),
    ),
    "lifting.twist.load": ("lifting olympic", ("band twist_n_mm_per_deg 220 to 520",)),
    "lifting.twist.mixed": ("lifting mixed_training", ("band twist_n_mm_per_deg 150 to 360",)),
    "lifting.toe_guard": ("lifting mixed_training", ("band toe_rubber 0.2 to 0.7",)),
    "lifting.heel_tab": ("lifting powerlifting_squat", ("band collar_mm 55 to 90",)),
    "lifting.knee_forward": ("lifting olympic history=knee", ("must",)),
    "lifting.achilles_range": ("lifting olympic history=achilles", ("says",)),
    "lifting.present_running": ("lifting olympic present.kind=running", ("says",)),
    "lifting.ankle_flare": ("lifting olympic history=ankle", ("band heel_flare 1 to 1.15",)),
    "lifting.run_stack": ("lifting gym_running", ("band heel_stack_mm 20 to 38",)),
    "lifting.run_mass": ("lifting gym_running", ("band mass_g 180 to 320",)),
    "lifting.run_heavy": (
        "lifting mixed_training body_kg=95",
        ("low cushion >= 2.5", "high cushion >= 5.5", "weight cushion >= 1.1"),
    ),
    "lifting.heel_pain": ("lifting mixed_training history=heel_pain", ("low cushion >= 2.5", "high cushion >= 5.5")),
    "lifting.splay": ("lifting general_strength feet=high_volume", ("high ball_room_mm >= 8",)),
    "cycling.ride.road_race": (
        "cycling road_race pedal=flat",
        ("band bend_n_mm_per_deg 2800 to 6000", "band mass_g 200 to 300", "first sole flat_dense"),
    ),
    "cycling.ride.road_fast": (
        "cycling road_fast pedal=flat",
        ("band bend_n_mm_per_deg 1500 to 4500", "band mass_g 220 to 320", "first sole flat_dense"),
    ),
    "cycling.ride.town": (
        "cycling town pedal=flat",
        ("band bend_n_mm_per_deg 100 to 900", "band mass_g 260 to 420", "score sole flat_dense >= 0.4"),
    ),
    "cycling.ride.commute": (
        "cycling commute pedal=flat",
        ("band bend_n_mm_per_deg 300 to 1500", "band mass_g 260 to 420", "score sole lug >= 0.769"),
    ),
    "cycling.ride.gravel": (
        "cycling gravel pedal=flat",
        ("band bend_n_mm_per_deg 1000 to 3500", "band mass_g 260 to 380", "first sole lug"),
    ),
    "cycling.ride.cyclocross": (
        "cycling cyclocross pedal=flat",
        ("band bend_n_mm_per_deg 1500 to 4500", "band mass_g 260 to 380", "first sole lug"),
    ),
    "cycling.ride.mtb_xc": (
        "cycling mtb_xc pedal=flat",
        ("band bend_n_mm_per_deg 1800 to 5000", "band mass_g 260 to 380", "first sole lug"),
    ),
    "cycling.ride.mtb_trail": (
        "cycling mtb_trail pedal=flat",
        ("band bend_n_mm_per_deg 400 to 1800", "band mass_g 300 to 460", "score sole lug >= 0.714"),
    ),
    "cycling.ride.mtb_downhill": (
        "cycling mtb_downhill pedal=flat",
        ("band bend_n_mm_per_deg 200 to 1000", "band mass_g 320 to 500", "score sole lug >= 0.333"),
    ),
    "cycling.ride.triathlon": (
        "cycling triathlon pedal=flat",
        ("band bend_n_mm_per_deg 2000 to 5500", "band mass_g 200 to 310", "first sole flat_dense"),
    ),
    "cycling.ride.winter": (
        "cycling winter pedal=flat",
        ("band bend_n_mm_per_deg 700 to 3000", "band mass_g 380 to 560", "first sole lug"),
    ),
    "cycling.power": (
        "cycling road_race pedal=flat power_w=1200",
        ("low bend_n_mm_per_deg >= 4050", "high bend_n_mm_per_deg >= 6500"),
    ),
    "cycling.stiffest": (
        "cycling road_race pedal=flat school.cycling_stiffness=stiffest",
        ("low bend_n_mm_per_deg >= 3600", "high bend_n_mm_per_deg >= 6500", "weight bend_n_mm_per_deg >= 1.5"),
    ),
    "cycling.brisk_far": (
        "cycling town pedal=flat ride_km=80",
        ("low bend_n_mm_per_deg >= 600", "high bend_n_mm_per_deg >= 1800", "weight bend_n_mm_per_deg >= 0.8"),
    ),
    "cycling.heavy": (
        "cycling road_race pedal=flat body_kg=95",
        ("low bend_n_mm_per_deg >= 2950", "high bend_n_mm_per_deg >= 6250"),
    ),
    "cycling.pedal.flat": (
        "cycling road_race pedal=flat",
        ("first cleat none", "veto cleat three_bolt", "score cleat two_bolt >= 0.3"),
    ),
    "cycling.pedal.two_bolt": (
        "cycling road_race pedal=two_bolt",
        ("first cleat two_bolt", "veto cleat three_bolt", "veto cleat none"),
    ),
    "cycling.pedal.three_bolt": (
        "cycling road_race pedal=three_bolt",
        ("first cleat three_bolt", "veto cleat two_bolt", "veto cleat none"),
    ),
    "cycling.pedal.undecided_road": (
        "cycling road_race pedal=undecided",
        ("first cleat three_bolt", "score cleat both >= 0.9", "score cleat two_bolt >= 0.6"),
    ),
    "cycling.pedal.undecided_off": (
        "cycling commute pedal=undecided",
        ("first cleat two_bolt", "score cleat both >= 0.7", "score cleat none >= 0.4"),
    ),
    "cycling.pedal.undecided_town": (
        "cycling town pedal=undecided",
        ("first cleat none", "score cleat two_bolt >= 0.6", "score cleat both >= 0.4"),
    ),
    "cycling.three_in_mud": ("cycling gravel pedal=three_bolt", ("must",)),
    "cycling.three_walked": ("cycling town pedal=three_bolt", ("says",)),
    "cycling.walk_lugs": ("cycling town pedal=flat wet=yes", ("score sole lug >= 0.6",)),
    "cycling.closure": (
        "cycling road_race pedal=flat",
        ("first closure dial", "score closure ratchet >= 0.8", "score closure strap_3 >= 0.7"),
    ),
    "cycling.closure_tri": (
        "cycling triathlon pedal=flat",
        ("first closure strap_1", "score closure strap_2 >= 0.722"),
    ),
    "cycling.closure_easy": ("cycling town pedal=flat", ("first closure laces", "score closure laces_strap >= 0.75")),
    "cycling.closure_budget": (
        "cycling road_race pedal=flat budget=80",
        ("first closure strap_2", "score closure strap_3 >= 1", "score closure laces >= 0.833"),
    ),
    "cycling.laces_tuck": ("cycling road_race pedal=flat", ("says",)),
    "cycling.uppers": (
        "cycling road_race pedal=flat",
        ("first upper microfibre", "score upper synthetic >= 0.889", "score upper knit >= 0.556"),
    ),
    "cycling.upper_tri": ("cycling triathlon pedal=flat", ("first upper mesh",)),
    "cycling.upper_winter": ("cycling winter pedal=flat", ("veto upper mesh", "veto upper knit")),
    "cycling.collar_winter": ("cycling winter pedal=flat", ("band collar_mm 95 to 150",)),
    "cycling.collar": ("cycling road_race pedal=flat", ("band collar_mm 40 to 80",)),
    "cycling.counter": ("cycling road_race pedal=flat", ("band heel_counter 6 to 9.5",)),
    "cycling.sprint_heel": (
        "cycling road_race pedal=flat",
        ("low heel_counter >= 6", "high heel_counter >= 9.5", "weight heel_counter >= 0.9"),
    ),
    "cycling.toe_room": ("cycling road_race pedal=flat", ("band toe_room_mm 5 to 10",)),
    "cycling.room": (
        "cycling road_race pedal=flat",
        ("band ball_room_mm -5 to 4", "band instep_room_mm -8 to 4", "band heel_room_mm -3.5 to 1.5"),
    ),
    "cycling.long_rides": (
        "cycling road_race pedal=flat ride_km=80",
        ("low ball_room_mm >= -3", "high ball_room_mm >= 7", "low instep_room_mm >= -7"),
    ),
    "cycling.numb": (
        "cycling road_race pedal=flat history=forefoot",
        ("low ball_room_mm >= -3", "high ball_room_mm >= 7"),
    ),
    "cycling.cleat_place": ("cycling road_race pedal=two_bolt", ("says",)),
    "cycling.saddle": ("cycling road_race pedal=flat present.kind=running", ("says",)),
    "cycling.tiers": ("cycling road_race pedal=flat budget=80", ("says",)),
    "cycling.race_rules": ("cycling road_race pedal=flat level=competitive", ("says",)),
    "court.game.badminton": (
        "court badminton",
        ("band twist_n_mm_per_deg 210 to 420", "band heel_counter 6 to 9", "band mass_g 230 to 310"),
    ),
    "court.game.tennis": (
        "court tennis",
        ("band twist_n_mm_per_deg 220 to 460", "band heel_counter 6 to 9", "band mass_g 300 to 400"),
    ),
    "court.game.squash": (
        "court squash",
        ("band twist_n_mm_per_deg 200 to 420", "band heel_counter 6 to 9", "band mass_g 250 to 340"),
    ),
    "court.game.volleyball": (
        "court volleyball",
        ("band twist_n_mm_per_deg 170 to 380", "band heel_counter 5 to 9", "band mass_g 260 to 350"),
    ),
    "court.game.basketball": (
        "court basketball",
        ("band twist_n_mm_per_deg 200 to 440", "band heel_counter 6 to 9", "band mass_g 300 to 410"),
    ),
    "court.game.indoor_football": (
        "court indoor_football",
        ("band twist_n_mm_per_deg 150 to 340", "band heel_counter 5 to 8", "band mass_g 220 to 310"),
    ),
    "court.game.fencing": (
        "court fencing",
        ("band twist_n_mm_per_deg 180 to 400", "band heel_counter 7 to 10", "band mass_g 220 to 300"),
    ),
    "court.game.dance_fitness": (
        "court dance_fitness",
        ("band twist_n_mm_per_deg 120 to 300", "band heel_counter 4 to 8", "band mass_g 200 to 290"),
    ),
    "court.flare": ("court badminton", ("band heel_flare 1 to 1.12",)),
    "court.heel_round": ("court badminton", ("band heel_round_mm 5 to 11",)),
    "court.heel_plain": ("court volleyball", ("band heel_round_mm 1 to 8",)),
    "court.cushion": ("court badminton", ("band cushion 1.8 to 4.2",)),
    "court.jumping": ("court volleyball", ("low cushion >= 2.6", "high cushion >= 5.4", "weight cushion >= 1.4")),
    "court.drop": ("court badminton", ("band drop_mm 2 to 9",)),
    "court.drop_flat": ("court indoor_football", ("low drop_mm <= 0", "high drop_mm <= 5")),
    "court.drop_dance": ("court dance_fitness", ("low drop_mm <= 0", "high drop_mm <= 6", "weight drop_mm >= 1")),
    "court.bend": ("court badminton", ("band bend_n_mm_per_deg 90 to 280",)),
    "court.sole": (
        "court badminton",
        ("first sole gum_court", "score sole grip_flat >= 0.5", "score sole flat_dense >= 0.3"),
    ),
    "court.no_spikes": (
        "court badminton",
        ("veto sole spikes_full", "veto sole spikes_half", "veto sole rubber_spikes"),
    ),
    "court.no_lugs": ("court badminton", ("veto sole lug",)),
    "court.clay": ("court badminton floor=clay", ("score sole grip_flat >= 0.9",)),
    "court.dust": ("court badminton wet=yes", ("says",)),
    "court.closure": (
        "court badminton",
        ("first closure laces", "score closure laces_strap >= 0.7", "score closure dial >= 0.6"),
    ),
    "court.closure_arch": ("court fencing", ("score closure laceless <= 0",)),
    "court.uppers": (
        "court badminton",
        ("first upper microfibre", "score upper synthetic >= 1", "score upper leather_lined >= 0.778"),
    ),
    "court.upper_dance": ("court dance_fitness", ("first upper leather_lined", "score upper mesh <= 0.273")),
    "court.upper_blade": ("court fencing", ("veto upper knit", "veto upper mesh")),
    "court.upper_sturdy": ("court tennis", ("score upper leather_lined >= 0.818",)),
    "court.guard": ("court tennis", ("band toe_rubber 0.2 to 0.7",)),
    "court.collar_low": ("court badminton", ("band collar_mm 50 to 85",)),
    "court.collar_high": ("court badminton school.ankle=high", ("band collar_mm 90 to 135",)),
    "court.collar_fencing": ("court fencing", ("band collar_mm 45 to 75",)),
    "court.ankle": (
        "court badminton history=ankle",
        ("weight heel_flare >= 1.7", "low heel_counter >= 7", "high heel_counter >= 10"),
    ),
    "court.knee": ("court badminton history=knee", ("says",)),
    "court.heel_pain": ("court badminton history=heel_pain", ("low cushion >= 2.6", "high cushion >= 5.4", "says")),
    "court.forefoot": ("court badminton history=forefoot", ("low cushion >= 2.3", "high cushion >= 5")),
    "court.sore_joints": ("court tennis history=back", ("low cushion >= 5.3", "high cushion >= 8")),
    "court.durable": ("court badminton sessions_per_week=5", ("low mass_g >= 240", "high mass_g >= 350")),
    "court.toe_room": ("court badminton", ("band toe_room_mm 7 to 12",)),
    "court.half_up": (
        "court badminton school.court_size=half_up",
        ("low toe_room_mm >= 11", "high toe_room_mm >= 16"),
    ),
    "court.not_half_up": ("court fencing school.court_size=half_up", ("says",)),
    "court.room": (
        "court badminton",
        ("band ball_room_mm -6 to 3", "band instep_room_mm -9 to 4", "band heel_room_mm -3.5 to 1"),
    ),
    "court.bunion": (
        "court badminton feet=odd",
        ("low ball_room_mm >= -5", "high ball_room_mm >= 5", "first upper leather_lined"),
    ),
    "court.running_shoes": ("court badminton present.kind=running", ("says",)),
    "court.wear_in": ("court badminton", ("says",)),
    "court.fencing_rules": ("court fencing", ("says",)),
    "court.fencing_others": ("court fencing", ("says",)),
    "court.marks": ("court badminton level=competitive", ("says",)),
    "field.grass.pace_bowler": (
        "field cricket wicket=grass role=pace_bowler",
        ("first sole spikes_full", "score sole spikes_half >= 0.2"),
    ),
    "field.grass.spin_bowler": (
        "field cricket wicket=grass role=spin_bowler",
        ("first sole spikes_half", "score sole spikes_full >= 0.889"),
    ),
    "field.grass.batter": (
        "field cricket wicket=grass role=batter",
        ("first sole spikes_half", "score sole spikes_full >= 0.5"),
    ),
    "field.grass.keeper": (
        "field cricket wicket=grass role=keeper",
        ("first sole spikes_half", "score sole spikes_full >= 0.4"),
    ),
    "field.grass.fielder": (
        "field cricket wicket=grass role=fielder",
        ("first sole spikes_half", "score sole spikes_full >= 0.2", "score sole rubber_spikes >= 0.4"),
    ),
    "field.grass.all_rounder": (
        "field cricket wicket=grass role=all_rounder",
        ("first sole spikes_half", "score sole spikes_full >= 0.889"),
    ),
    "field.batter_full": (
        "field cricket wicket=grass role=batter school.batter_spikes=full",
        ("first sole spikes_full",),
    ),
    "field.artificial": (
        "field cricket wicket=artificial_outdoor role=pace_bowler",
        ("first sole rubber_spikes", "score sole pimpled >= 0.8", "score sole gum_court >= 0.4"),
    ),
    "field.indoor": (
        "field cricket wicket=artificial_indoor role=pace_bowler",
        ("first sole pimpled", "score sole gum_court >= 0.7", "score sole rubber_spikes >= 0.2"),
    ),
    "field.hall": (
        "field cricket wicket=sports_hall role=pace_bowler",
        ("first sole gum_court", "score sole grip_flat >= 0.5"),
    ),
    "field.no_spikes": (
        "field cricket wicket=artificial_outdoor role=pace_bowler",
        ("veto sole spikes_full", "veto sole spikes_half"),
    ),
    "field.no_rubber_in_hall": (
        "field cricket wicket=sports_hall role=pace_bowler",
        ("veto sole pimpled", "veto sole rubber_spikes"),
    ),
    "field.spikes_off": ("field cricket wicket=grass role=pace_bowler", ("says",)),
    "field.collar": ("field cricket wicket=grass role=spin_bowler", ("band collar_mm 50 to 95",)),
    "field.collar_school": (
        "field cricket wicket=grass role=spin_bowler school.ankle=high",
        ("band collar_mm 95 to 135",),
    ),
    "field.collar_pace": ("field cricket wicket=grass role=pace_bowler", ("band collar_mm 100 to 140",)),
    "field.ankle": ("field cricket wicket=grass role=pace_bowler history=ankle", ("weight collar_mm >= 2",)),
    "field.closure": (
        "field cricket wicket=grass role=pace_bowler",
        ("score closure laces >= 0.643", "score closure dial >= 0.786", "score closure strap_2 >= 0.286"),
    ),
    "field.closure_pace": (
        "field cricket wicket=grass role=pace_bowler",
        ("first closure laces_strap", "score closure dial >= 0.786"),
    ),
    "field.toe": ("field cricket wicket=grass role=pace_bowler", ("band toe_rubber 0.4 to 0.9",)),
    "field.toe_pace": (
        "field cricket wicket=grass role=pace_bowler",
        ("low toe_rubber >= 0.4", "high toe_rubber >= 0.9", "weight toe_rubber >= 1.1"),
    ),
    "field.counter": ("field cricket wicket=grass role=pace_bowler", ("band heel_counter 7 to 10",)),
    "field.counter_pace": (
        "field cricket wicket=grass role=pace_bowler",
        ("low heel_counter >= 7", "high heel_counter >= 10", "weight heel_counter >= 1.2"),
    ),
    "field.cushion": ("field cricket wicket=grass role=pace_bowler", ("band cushion 3.5 to 7.5",)),
    "field.cushion_pace": (
        "field cricket wicket=grass role=pace_bowler",
        ("low cushion >= 3.5", "high cushion >= 7.5", "weight cushion >= 1.2"),
    ),
    "field.sore": (
        "field cricket wicket=grass role=pace_bowler history=knee",
        ("low cushion >= 4", "high cushion >= 8.5"),
    ),
    "field.sore_pace": ("field cricket wicket=grass role=pace_bowler history=knee", ("must",)),
    "field.mass": ("field cricket wicket=grass role=pace_bowler", ("band mass_g 300 to 430",)),
    "field.mass_batter": ("field cricket wicket=grass role=batter", ("band mass_g 270 to 370",)),
    "field.twist": ("field cricket wicket=grass role=pace_bowler", ("band twist_n_mm_per_deg 210 to 440",)),
    "field.twist_bowlers": (
        "field cricket wicket=grass role=pace_bowler",
        ("low twist_n_mm_per_deg >= 210", "high twist_n_mm_per_deg >= 440", "weight twist_n_mm_per_deg >= 1"),
    ),
    "field.uppers": (
        "field cricket wicket=grass role=pace_bowler",
        ("score upper synthetic >= 0.727", "score upper microfibre >= 0.636", "score upper mesh >= 0.182"),
    ),
    "field.upper_pace": ("field cricket wicket=grass role=pace_bowler", ("score upper mesh <= 0.182",)),
    "field.toe_room": ("field cricket wicket=grass role=pace_bowler", ("band toe_room_mm 7 to 12",)),
    "field.room": (
        "field cricket wicket=grass role=pace_bowler",
        ("band ball_room_mm -5 to 5", "band instep_room_mm -8 to 5", "band heel_room_mm -3.5 to 1.5"),
    ),
    "field.socks": ("field cricket wicket=grass role=pace_bowler feet=usual", ("says",)),
    "field.runs_small": ("field cricket wicket=grass role=pace_bowler", ("says",)),
    "field.often": (
        "field cricket wicket=grass role=pace_bowler sessions_per_week=5",
        ("weight twist_n_mm_per_deg >= 1.2",),
    ),
    "field.rules": ("field cricket wicket=grass role=pace_bowler level=competitive", ("says",)),
    "ice.boot": ("ice hockey", ("band bend_n_mm_per_deg 390 to 520",)),
    "ice.creased": (
        "ice hockey creased=yes",
        ("low bend_n_mm_per_deg >= 450", "high bend_n_mm_per_deg >= 600", "weight bend_n_mm_per_deg >= 1.8"),
    ),
    "ice.counter": ("ice hockey", ("band heel_counter 7 to 10",)),
    "ice.twist": ("ice hockey", ("band twist_n_mm_per_deg 300 to 600",)),
    "ice.collar": ("ice hockey", ("band collar_mm 110 to 150",)),
    "ice.ankle": ("ice hockey history=ankle", ("low heel_counter >= 8", "weight bend_n_mm_per_deg >= 1.8")),
    "ice.cushion": ("ice hockey", ("band cushion 1 to 4",)),
    "ice.heel_pain": ("ice hockey history=heel_pain", ("low cushion >= 2", "high cushion >= 5.5")),
    "ice.closure": ("ice hockey", ("first closure laces", "score closure dial >= 0.4")),
    "ice.uppers": (
        "ice hockey",
        ("first upper synthetic", "score upper microfibre >= 0.7", "score upper leather_lined >= 0.6"),
    ),
    "ice.upper_comfort": ("ice hockey sessions_per_week=1", ("score upper leather_lined >= 0.9",)),
    "ice.mass": ("ice hockey", ("band mass_g 520 to 700",)),
    "ice.light": (
        "ice hockey level=competitive",
        ("low mass_g <= 480", "high mass_g <= 660", "weight mass_g >= 0.5"),
    ),
    "ice.toe_room": ("ice hockey", ("band toe_room_mm 0 to 5",)),
    "ice.room": (
        "ice hockey",
        ("band ball_room_mm -6 to 3", "band instep_room_mm -9 to 3", "band heel_room_mm -4 to 0.5"),
    ),
    "ice.narrow": (
        "ice hockey feet=low_volume",
        ("low ball_room_mm <= -7", "high ball_room_mm <= 2", "low heel_room_mm <= -4.5"),
    ),
    "ice.wide": (
        "ice hockey feet=high_volume",
        ("low ball_room_mm >= -5", "high ball_room_mm >= 4.5", "low instep_room_mm >= -8"),
    ),
    "ice.bunion": ("ice hockey feet=odd", ("low ball_room_mm >= -5", "high ball_room_mm >= 4.5")),
    "ice.rules": ("ice hockey level=competitive", ("says",)),
    "ice.cold_numb": ("ice hockey history=numbness", ("low instep_room_mm >= -8", "high instep_room_mm >= 5")),
}
