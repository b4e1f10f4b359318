"""What the trade says, statement by statement, each with the rules or tests that keep it; docs/statements.md is made
from it: `python -m tests.core.statements`.

A line is `statement | references`. A reference with a dot is a rule; `test_…` a test; `open: …` says what is not built yet.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from pathlib import Path

PAGE = Path(__file__).parents[2] / "docs" / "statements.md"
TESTS = Path(__file__).parents[1]

SAID: dict[str, str] = {
    "Feet": """
Both feet are measured, standing | test_sitting_is_brought_to_standing_once_and_is_less_sure test_both_feet_are_told_apart
In the socks of the sport | test_a_thicker_sock_makes_a_larger_foot field.socks
The larger foot governs, zone by zone | test_the_larger_foot_governs_zone_by_zone
A difference over half a size deserves a remedy | test_a_difference_over_half_a_size_gets_a_remedy
Feet swell over a day | test_share_of_the_days_swelling test_morning_feet_are_given_room_to_swell
Feet swell in long efforts: long routes and long rides want more room | test_long_efforts_and_sitting_are_allowed_for_and_said climbing.swell cycling.long_rides
Length, girths, widths, heights, arch, toe shape and bumps are read | test_every_measure_has_a_name test_toe_shapes
Volume is the whole circumference, not width | test_volume_grows_with_girth test_volume_needs_a_girth
Low volume: the lower-volume version | feet.low_volume climbing.softer_version ice.narrow
High volume: the fuller one, never by the label | feet.high_volume ice.wide ice.families
Match the arch to its support; the reverse leads to injury | feet.arch feet.arches_unlike
Flat feet want structure | feet.flat_structure test_flat_feet_want_structure_high_arches_cushion
Stiff high arches want cushion | feet.high_arch test_a_high_arch_counts_once_in_court
Long thin feet: an insole takes up volume | feet.long_thin
A removable insole lets an orthosis in | feet.orthosis climbing.orthosis test_a_prescribed_insole_must_go_in_whatever_the_sport
Juniors get room only where slack does no harm | growing.room growing.no_room test_growing_feet_get_room_where_slack_does_no_harm
Growing feet are measured again | growing.measure test_faster_growth_is_seen_and_measured_again_sooner
Tax goes by size, as the shop sets it | test_tax_goes_by_size
With length and width only, the rest is estimated with its spread and said so | test_length_and_ball_width_go_on test_stated_spreads_hold_the_feet_they_are_of
What they wear and how it fits is a measurement too | test_one_right_shoe_tells_a_foot test_contradicting_shoes_are_said
A narrow heel asks for laces or a strap | feet.narrow_heel
Wide in front and narrow at the heel is a shape, not a width | feet.wide_fore_narrow_heel
""",
    "Climbing": """
Downturn follows the terrain, not the grade | climbing.terrain.steep_sport climbing.terrain.technical_edging climbing.terrain.indoor_general climbing.terrain.board
Slabs and walls are climbed flat | climbing.terrain.sandstone_slab climbing.terrain.technical_edging
Downturned and stiff shoes smear badly | climbing.smears_not_hooked
Competition boulders: a moderate downturn that still smears | climbing.terrain.indoor_boulder
Offset moves the point over the big toe | climbing.second_toe climbing.bunion
Stiff soles stand on small edges | climbing.stiffness test_more_small_edges_never_softer
Rounded friction rock: soft smears better | climbing.soft_rounds climbing.terrain.gritstone
Steep rock with tiny edges wants it stiff | climbing.tiny_edges_steep test_steep_rock_is_stiffer_by_its_own_usual_edge
Five minutes on one edge: stiffness first | climbing.stance_first climbing.terrain.trad
Heavier climbers need it stiffer, lighter ones softer | test_heavier_climbers_need_it_stiffer test_body_mass_counts_for_soft_shoes_too climbing.rubber_heavy climbing.rubber_light
Low-volume versions are often softer | climbing.softer_version
Full midsole for feet not yet strong | climbing.midsole_full
Split midsole for steep ground and strong feet | climbing.midsole_split climbing.split_strong climbing.midsole_plain
Hard rubber lasts, soft sticks | climbing.rubber climbing.rubber_worn
Toe rubber for toe hooks | climbing.toe_hooks climbing.toe_patch
Token heels slip off hooks, thick cups hold | climbing.heel_hooks climbing.counter_hooks climbing.heel_rubber
Wrap-round heels take sideways hooks | climbing.wrap_heel
Gritty rock: heel rubber weighs most | climbing.grit_heel
No dead space at the heel | climbing.counter climbing.room
An edgeless toe keeps contact on dimples | climbing.edgeless climbing.edge_kept
A tension rand keeps the hook; others go flat | climbing.inspect_hook
Slip-ons: quick, may pop off in hooks, loosen most | climbing.slipper_hooks climbing.slipper_closer climbing.slippers_loosen
Bouldering: fast closures, or laces for the heel | climbing.closure_fast climbing.closure_heel
Long routes: laces; a strap works loose | climbing.closure_long
Mileage: slip-on or one strap | climbing.closure_mileage
Elsewhere straps or laces | climbing.closure_plain
Odd feet: laces | climbing.odd_feet
A wide opening for a full foot | climbing.full_foot
Snug, wearable 10 to 15 minutes, never numb | climbing.toe_room climbing.never_numb climbing.tight_ack
Tight is bounded, and refused for numb or growing toes | climbing.tight_school climbing.tight_refused climbing.growing
Long routes slightly generous | climbing.terrain.multi_pitch climbing.swell
A first pair is neither tight nor dear | climbing.terrain.first_shoe climbing.first_pair
Synthetic gives half a size at most, leather nearly a whole | climbing.uppers climbing.upper_hold climbing.leather_room test_the_trade_anchors
Leather breathes and lasts | climbing.upper_all_day climbing.leather_lasts climbing.breathes
Training pair: three schools | climbing.train_old climbing.train_same climbing.train_comfort
Outdoor boulders: downturn that still edges | climbing.terrain.outdoor_boulder
Mileage: comfort, so that technique lasts | climbing.terrain.mileage
Shoes as pointed as the toes are bent | climbing.toe_box
A sore ball or tendon is spared | climbing.forefoot climbing.achilles
A shoe is not a safety system | climbing.not_safety
""",
    "Football": """
Soft wet grass: few long studs, often to be changed | football.plate.soft_natural football.studs_out
Firm grass: moulded, round or bladed | football.plate.firm_natural football.wet_firm
Hard dry grass: many short | football.plate.hard_natural
Artificial grass: many short round ones that let the foot turn | football.plate.artificial_grass
Carpet: nubs | football.plate.carpet_turf
Hall: flat gum, and one game by either door | football.plate.indoor_hall test_football_in_a_hall_is_one_spec_by_both_doors
Long studs for natural ground only | football.no_soft_ground_off_grass football.no_soft_ground_on_hard football.no_studs_in_hall football.no_flat_on_grass
Long metal studs may be barred | football.venue_rules football.metal
Blades catch on artificial grass | football.blades_catch
Round studs pivot, blades bite; any knee: round | football.knee_no_blades football.knee_round test_a_knee_never_gets_blades_nor_more_turning
Each plate by its own grip, turning and pressure | football.grip.soft_ground football.grip.firm_ground_round football.grip.firm_ground_blade football.grip.hard_ground football.grip.artificial_grass football.grip.turf football.grip.indoor
Turf shoes on artificial grass: casual only, never, fine when dry | football.turf_on_artificial football.turf_wet
Nubs for casual games, beginners and older players | football.nubs_for_some football.older
Nubs spare back, hips and knees on hard ground | football.spare_joints
Stud pressure is felt under the ball | football.forefoot
The same last comes on other plates | football.same_last
Position and level do not choose the boot | test_position_and_level_do_not_choose_the_plate
Light and thin is quick; classic leather lasts | football.mass.match football.mass.other football.often football.uppers
Tight to snug, never loose | football.room football.counter
Half a size under street; synthetic a little finger, leather toes nearly touching | football.toe_room football.toe_room_leather
Classic unlined leather: half a size below | football.toe_room_unlined
Mostly width gives, the plate never | test_a_plate_holds_length test_unlined_leather_gives_more_than_lined_and_than_synthetic
Laceless must fit exactly when new; odd feet need laces | football.closure football.odd_feet
Central lacing suits narrow feet | football.slim_foot
Soft uppers end wide, stiff ones stay narrow | football.full_foot
A compressive inner sock feels narrow | football.inner_sock
Narrow in the middle, round at the toes: by zone | football.toe_box football.last
Bunions: leather | football.bunion
Collar socks are preference only | football.collar_low football.collar_high
Touch is the player's | football.feel_leather football.feel_synthetic
Hard underfoot and sore heels: cushion | football.cushion football.cushion_hard football.heel_pain
A heavier player bends the plate more | football.bend football.bend_heavy
Ankles: steady sides | football.ankle football.ankle_sides football.twist
Never a full match first | football.first_wear
""",
    "Cycling": """
Pedals decide the sole | cycling.pedal.flat cycling.pedal.two_bolt cycling.pedal.three_bolt test_pedals_decide_the_cleat
Undecided: by road, mud or town | cycling.pedal.undecided_road cycling.pedal.undecided_off cycling.pedal.undecided_town
Three bolts walk badly, clog and wear | cycling.three_in_mud cycling.three_walked cycling.three_carried
Town: soft is fine | cycling.ride.town
From some 16 km a stiff sole | cycling.brisk_far cycling.ride.road_fast
Racing: stiffest, and light | cycling.ride.road_race cycling.sprint_heel
Whether stiffness saves energy is disputed: the loss is shown | cycling.power cycling.stiffest test_stiffness_counts_little_unless_the_school_says_so_and_the_loss_is_shown
Material by price tier | cycling.tiers
Commuting: stiff enough to push, soft enough to walk | cycling.ride.commute
Off-road: lugs, clipped or not | cycling.ride.gravel cycling.ride.mtb_trail cycling.sheds cycling.walk_lugs cycling.toe_rocks
Cyclo-cross and cross-country: rigid but runnable | cycling.ride.cyclocross cycling.ride.mtb_xc cycling.run_ups
Downhill: grip and flex | cycling.ride.mtb_downhill
Deep winter: a boot with membrane | cycling.ride.winter cycling.upper_winter cycling.collar_winter cycling.wet_feet
Triathlon: quick on and off, drains | cycling.ride.triathlon cycling.closure_tri cycling.upper_tri
Dial: about 1 mm a click, on the move | cycling.closure cycling.fine_closure
Straps are cheap and robust; laces light, tucked away | cycling.closure_budget cycling.closure_easy cycling.laces_tuck
Snug all round, room for swelling | cycling.room cycling.long_rides cycling.toe_room cycling.toe_box
White wipes clean, black for mud | cycling.light cycling.dark cycling.uppers
Seen in traffic | cycling.seen
Numb at the ball: room, cleat back | cycling.numb cycling.cleat_place
Another stack moves the saddle | cycling.saddle
A high arch counts | cycling.high_arch
Heels don't lift, ankles are free | cycling.counter cycling.collar
Heavy riders bend it more; bumps get room | cycling.heavy cycling.bunion
""",
    "Court": """
Heel sole slightly wider than the upper: a middle band | court.flare test_every_court_shoe_is_flared_a_little_and_grips_flat
Hard heel cup, firm collar | court.collar_low court.collar_high court.ankle
A middle that resists twisting: hollowed and bridged | court.bridge court.bend
Flat grippy sole, low tread | court.sole court.tread court.no_spikes
Low and thin with enough cushion for floor and body | court.cushion court.drop test_heavier_bodies_and_harder_floors_want_cushion
Running shoes are wrong for court | court.running_shoes court.no_lugs
Badminton: support, fit, durability, grip, weight | court.game.badminton court.lasts test_support_comes_first_in_badminton
Many go half a size up | court.half_up
Dust kills grip: a wet towel | court.dust
Wear in at home first; never an oven | court.wear_in caution.no_oven test_nobody_is_told_to_use_an_oven
Fencing: flat, thin, hard cup | court.game.fencing court.drop_flat
Fencing: the more lunging the rounder the heel | court.heel_round test_the_more_lunging_the_rounder_the_heel
Fencing: a guard inside | court.guard_inside
Fencing: no open knits | court.upper_blade court.upper_sturdy
Fencing: never half up, never high | court.not_half_up court.collar_fencing
Fencing: other light court shoes serve | court.fencing_others court.fencing_rules
Dance: turning spot, low tread | court.turning_spot court.game.dance_fitness
Dance: reinforced toe, lacing round the arch | court.guard_toe court.closure_arch
Dance: moderate cushion, no high heel | court.dance_heel court.drop_dance
Dance: leather snug, not stretchy mesh | court.dance_leather court.upper_dance
Dance: high-tops help twisting ankles | court.dance_ankle
Volleyball and basketball: cushion with rebound | court.jumping court.game.volleyball court.game.basketball
Basketball: a guard outside | court.guard_outside
Tennis, squash, indoor football by their own work | court.game.tennis court.game.squash court.game.indoor_football court.clay court.tread_clay
A knee turns easier | court.knee
Sore heels, balls, backs and hips: more under them | court.heel_pain court.forefoot court.sore_joints
Hall rules: soles that don't mark | court.marks court.no_marks
Played most days: wear counts | court.durable
Laces hold the middle; bumps get leather | court.closure court.uppers court.bunion court.room court.toe_room court.toe_box court.last court.heel_plain
""",
    "Lifting and gym": """
Flat, thin and dense under load | lifting.heel.deadlift lifting.heel.general lifting.cushion.load lifting.sole.load lifting.stack.deadlift
A deadlift stays flat whatever the school | lifting.deadlift_flat
Weightlifting: raised rigid heel | lifting.heel.olympic lifting.bend.load
It moves the ankle's range and adds none | test_the_wedge_adds_no_range lifting.achilles_range
The heel is computed for this lifter | lifting.heel.squat test_the_smallest_heel_reaches_the_wanted_lean_and_the_one_below_does_not
Where none sold reaches: the highest, and work on the ankle | lifting.ankle_work
A beginner gains the same by a wedge | lifting.wedge_first
Straps over the middle | lifting.closure.strap
Not for running or rope climbs | lifting.not_to_run_in
Half an inch at the toe for splay | lifting.toe_room.load lifting.toe_box.load
Maximal loads: extremely snug | lifting.max_loads lifting.room.load
Mixed training: drop about 4 mm, flat outsole | lifting.heel.mixed lifting.sole.mixed lifting.tread.flat
Mixed training: thin or caged midsole, shank, free toe | lifting.cushion.mixed lifting.twist.mixed lifting.bend.free_toe
Mixed training: wide toe box | lifting.toe_box.mixed lifting.toe_room.mixed lifting.room.free lifting.splay
Mixed training: toe guard and rope guard | lifting.toe_guard lifting.tongue
8 mm and more for heel strikes | lifting.heel.running
Without shank the middle sinks | lifting.twist.load
Eyelets high enough, heel tabs not low | lifting.closure.flat lifting.heel_tab
Last straight, semi-curved, curved | lifting.last.straight lifting.last.curved
Mesh breathes, layers last | lifting.uppers lifting.upper_light
Running: cushion of 2.5 body weights | lifting.cushion.running lifting.run_stack lifting.run_heavy lifting.run_mass
Running three times a week: a real running shoe | lifting.runs_often
Running: reflects, grips, matches the arch | lifting.reflective lifting.tread.running feet.arch lifting.toe_room.running lifting.toe_box.running
A runner's soft heel tips the lifter | lifting.present_running
Stiff ankles in flat work: a wedge or a second pair | lifting.stiff_ankle
Knees forward: a clinician first | lifting.knee_forward
Ankles, tendons, heels and bumps | lifting.ankle lifting.ankle_flare lifting.achilles lifting.heel_pain lifting.bunion lifting.counter lifting.bend.flat
Training belongs to a coach, rules to the federation | lifting.not_safety lifting.equipment_rules
Hand tests: fold, wring, press, flop | test_hand_tests_lie_on_the_scales test_hand_tests_go_with_the_sport_of_the_shoe
""",
    "Field": """
Grass: spikes by role | field.grass.pace_bowler field.grass.spin_bowler field.grass.batter field.grass.keeper field.grass.fielder field.grass.all_rounder
Artificial outdoors: rubber spikes or rubber | field.artificial
Indoors artificial: rubber | field.indoor
Polished hall: an indoor court shoe, neither pimples nor spikes | field.hall field.no_rubber_in_hall field.no_spikes
Pace: high ankle, strap or dial | field.collar_pace field.closure_pace
Pace: reinforced toe | field.toe_pace
Pace: the greatest demand | field.counter_pace field.cushion_pace field.twist_bowlers field.upper_pace
Batter: light; full or half is personal | field.mass_batter field.batter_full test_batters_schools_of_spikes
How often sets the budget | field.often
Some makers run half a size small | field.runs_small
Thick socks change the fit | field.socks field.toe_room
Steel caps are gone, reinforced toes remain | field.toe
Spikes off in the pavilion | field.spikes_off field.spikes_out
Body mass, bending, bumps and toes count | field.heavy field.bend field.bunion field.toe_box field.breathes
Collars by school, ankles held | field.collar field.collar_school field.ankle
Sore backs and knees | field.sore field.sore_pace
A season's sturdiness | field.mass field.twist field.uppers field.closure field.counter field.cushion field.room field.rules
""",
    "Ice": """
Fit, then comfort, then support | ice.room ice.cushion ice.counter
Three volume families | ice.narrow ice.wide ice.families
Stiffness by body, level and hours, not level alone | ice.boot test_a_heavy_beginner_is_stiffer_than_a_light_competitor_and_hours_count
Creases: too soft, or worn out | ice.creased
Toes brush the cap standing | ice.toe_room ice.toe_box
Moulded here with the maker's own, never at home | ice.heat_mould
No family fits: made to measure | ice.custom
Ankles, bumps and cold toes | ice.ankle ice.bunion ice.cold_numb ice.heel_pain
Over the ankle, laces, weight last | ice.collar ice.closure ice.uppers ice.upper_comfort ice.mass ice.light ice.twist ice.rules
""",
    "Trying on, settling, breaking in": """
Tests by sport, stand first | test_every_sport_stands_first
Toes jam: up half, or a longer last; a pinch at the ball: wider, not longer | test_what_the_trade_does_about_it test_a_width_pinch_never_means_longer
The worse side counts | test_the_worse_side_counts
Judged blind until scored | test_judging_blind_hides_maker_name_and_price
A plain shoe that fits beats a fine one that does not | test_a_plain_shoe_that_fits_beats_a_fine_one_that_does_not
Say what the shoe gives up | test_what_it_gives_up_typed_and_settled_at_once_is_on_the_sheet
Short wears first, rising | test_wears_rise_and_fall_on_free_days
Gentle steam for leather only, never an oven | test_steam_only_for_leather_and_only_when_asked test_nobody_is_told_to_use_an_oven
Too soon: the old pair plays | test_an_event_too_soon_says_to_play_the_old_pair
After break-in: measured again against the prediction | test_only_more_than_chance_is_surprising test_what_to_do_next
Like the pair they like | test_the_nearest_to_a_shoe_is_its_twin_and_what_differs_is_said
Unknown stays unknown | test_what_is_not_known_leaves_the_total test_what_is_not_known_neither_helps_nor_costs
A stated chance comes true that often | test_a_stated_chance_comes_true_that_often
The one measurement that makes the choice surer | test_the_measurement_that_helps_most_is_named
Substitutes from other sports | test_shoes_of_other_sports_that_may_serve
Cost by the hour and season | test_a_pair_costs_by_the_hour_as_sure_as_its_life
Three cheap pairs in a row against one dear one | test_three_cheap_pairs_against_one_dear test_one_good_pair_or_cheap_ones_in_a_row
Hours logged by pair and ground | test_hours_are_reckoned_where_nobody_logs test_a_wear_is_logged_once_and_can_be_taken_out
Wear inspected part by part: studs, balding, toe rubber, lost downturn, mid-sole, quarter, upper, overhang, heel cup, cleat | test_every_part_is_looked_at_in_some_sport_and_its_findings_cover_a_life test_studs_and_cleats_are_replaced_and_dont_wear_out_a_pair test_an_edge_that_is_felt_and_damp_are_said
When to buy again, and whether the same | test_what_a_fitter_would_ask_first test_the_same_again
The old performance pair trains while there is rubber left | climbing.train_old test_a_part_that_is_gone_ends_the_pair_whatever_the_others_look_like
In a gym: mixed training first, then lifters, then running | test_the_trade_orders_the_gym
A comfortable pair beside the performance pair | test_a_comfortable_pair_stands_beside_the_performance_pair
One last on several plates | test_one_last_on_several_plates_is_pointed_out
Records from which predictions learn | test_trials_teach_as_much_as_agreed test_what_a_trial_says_is_kept_once_and_follows_it
""",
    "Cautions": """
Lasting pain, numbness, wounds, diabetes, surgery, growing pains: refer | caution.pain caution.numbness caution.wounds caution.diabetes caution.surgery caution.growing_pains caution.feet_pain
Swelling, gout, an ingrown nail, a torn cruciate: a clinician first | caution.swelling caution.gout caution.ingrown_nail caution.cruciate
Feet that don't feel: nothing presses, the skin is looked at after one to two hours, no moulding | feet.unfelt feet.unfelt_care climbing.unfelt ice.not_moulded test_whoever_says_it_nothing_presses_on_feet_that_dont_feel test_feet_that_dont_feel_are_looked_at_after_every_wear
A child's heel is acknowledged | caution.child_heel
A note raises what it says and nothing it denies | test_a_note_raises_what_it_says_and_nothing_it_denies
Heel pain: cushion and an insole that comes out | feet.heel_pain
Older athletes: comfort, a little more cushion, and slowly | feet.older caution.older
Changes are built up over weeks | caution.build_up
Toe shape and bumps in every sport | feet.toes feet.bunion_box
A longer shoe weighs more | feet.mass
Venue, league and maker come first | football.venue_rules cycling.race_rules lifting.equipment_rules field.rules ice.rules court.fencing_rules
Two disciplines nothing serves both: two pairs | test_what_pulls_apart_follows_the_larger_share_and_says_two_pairs test_a_thousand_pairs_for_two_have_no_nonsensical_winner
""",
}


@dataclass(frozen=True)
class Statement:
    """One thing the trade says, and what keeps it."""

    about: str
    text: str
    rules: tuple[str, ...]
    tests: tuple[str, ...]
    waits: str


def statements() -> list[Statement]:
    """All statements in order."""
    found = []
    for about, lines in SAID.items():
        for line in lines.strip().splitlines():
            text, _, refs = line.partition(" | ")
            if refs.startswith("open: "):
                found.append(Statement(about, text, (), (), refs.removeprefix("open: ")))
                continue
            names = refs.split()
            tests = tuple(n for n in names if n.startswith("test_"))
            found.append(Statement(about, text, tuple(n for n in names if n not in tests), tests, ""))
    return found


def known_tests() -> set[str]:
    """Names of all tests."""
    return {n for f in TESTS.rglob("test_*.py") for n in re.findall(r"^def (test_\w+)", f.read_text(), re.MULTILINE)}


def page() -> str:
    """The page as Markdown."""
    all_ = statements()
    kept = [s for s in all_ if not s.waits]
    parts = [
        "# What the trade says, and what keeps it\n",
        "Made by `python -m tests.core.statements`; a test sees that every rule and test named here exists, and that every "
        "rule stands somewhere.\n",
        f"{len(all_)} statements: {len(kept)} kept by {len({r for s in kept for r in s.rules})} rules and "
        f"{len({t for s in kept for t in s.tests})} tests, {len(all_) - len(kept)} still to build.\n",
    ]
    for about in SAID:
        parts.append(f"## {about}\n\n| Statement | Rules | Tests |\n|---|---|---|")
        for s in all_:
            if s.about != about:
                continue
            rules = ", ".join(f"`{r}`" for r in s.rules) or (f"still to build: {s.waits}" if s.waits else "")
            parts.append(f"| {s.text} | {rules} | {', '.join(f'`{t}`' for t in s.tests)} |")
        parts.append("")
    return "\n".join(parts)


if __name__ == "__main__":
    PAGE.write_text(page())
