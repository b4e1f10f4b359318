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
A difference over half a size deserves a remedy, at heel and instep too | test_halves_that_differ_at_heel_or_instep_get_a_remedy test_a_difference_over_half_a_size_gets_a_remedy
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
Growing feet are measured again, by how fast feet of that age grow | growing.measure test_growing_feet_are_measured_again_by_their_age test_faster_growth_is_seen_and_measured_again_sooner
Tax goes by size, as the shop sets it | test_tax_goes_by_size
With length and width only, the rest is estimated with its spread and said so | test_length_and_ball_width_go_on test_stated_spreads_hold_the_feet_they_are_of
What they wear and how it fits is a measurement too | test_one_right_shoe_tells_a_foot test_contradicting_shoes_are_said
A narrow heel asks for laces or a strap | feet.narrow_heel test_a_narrow_heel_raises_straps_as_well_as_laces
Where no insole goes in none is advised | test_no_insole_is_advised_where_none_fits
Under a bar a high arch is carried and not cushioned | feet.high_arch_loaded
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
What decides: fit, closure, shape, sole, in that order | climbing.closure_counts test_in_climbing_closure_counts_before_shape_and_shape_before_the_sole
Slip-ons: quick, may pop off in hooks, loosen most: sized closest | test_a_slip_on_is_sized_closer climbing.slipper_hooks climbing.slipper_closer climbing.slippers_loosen
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
Cracks: flat, stiff, over the ankle, toes uncurled, a rand that protects | climbing.terrain.crack climbing.crack
Speed: light, soft, quick | climbing.terrain.speed climbing.speed
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
A sore ball over a hard base | football.forefoot_base
Goalkeeping: hold before lightness | football.keeper
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
Track: the stiffest, a strap over it | cycling.ride.track cycling.track
Indoors: two bolts, breathes, no lugs | cycling.ride.indoor_ride cycling.indoors
Deep winter: a boot with membrane | cycling.ride.winter cycling.upper_winter cycling.collar_winter cycling.wet_feet
Triathlon: quick on and off, drains | cycling.ride.triathlon cycling.closure_tri cycling.upper_tri
Dial: about 1 mm a click, on the move | cycling.closure cycling.fine_closure
Straps are cheap and robust; laces light, tucked away | cycling.closure_budget cycling.closure_easy cycling.laces_tuck
Snug all round, room for swelling | cycling.room cycling.long_rides cycling.toe_room cycling.toe_box
White wipes clean, black for mud | cycling.light cycling.dark cycling.uppers
Seen in traffic | cycling.seen
Numb at the ball: room, and the cleat back where there is one | cycling.numb cycling.cleat_place test_numb_feet_hear_of_a_cleat_only_where_there_is_one
Long rides and hot feet: the cleat further back | cycling.cleat_back
Knees: float | cycling.float
The middle doesn't wring | cycling.twist
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
Dance: moderate cushion, no high heel | court.dance_cushion court.dance_heel court.drop_dance
Dance: leather snug, not stretchy mesh | court.dance_leather court.upper_dance
Dance: high-tops help twisting ankles | court.dance_ankle
Volleyball and basketball: cushion with rebound | court.jumping court.game.volleyball court.game.basketball
Basketball: a guard outside | court.guard_outside
Netball: stops and landings, hold at the sides, no drag | court.game.netball
Handball: grip indoors, toe guard, twist | court.game.handball
Padel and paddle: herringbone or omni on sanded turf, hold at the sides | court.game.padel
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
Running on roads: a pair of its own, as the last one unless there is a reason | lifting.road
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
A running sole; a running shoe is never a hall shoe | lifting.sole.running lifting.no_court_sole test_a_running_shoe_is_never_a_hall_shoe
Running: a middle that turns a little, a heel that holds | lifting.twist.running lifting.counter.running
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
Rugby: forwards stiffer with eight long studs and a higher collar, backs as football | field.played.rugby_forwards field.played.rugby_backs
Metal and length by the union's rule | field.union
Hockey on watered turf: nubs, drain holes, toe guard; on sand fewer, longer | field.played.hockey_water field.played.hockey_sand
Lacrosse: as football with a higher cut | field.played.lacrosse
Bases: metal for adults, moulded for juniors, a guard for pitchers | field.played.bases field.moulded_young
Throws: turning a smooth rounded sole, straight heel spikes and a high collar | field.played.throws_turning field.turning_sole field.played.throws_straight
Any knee: no blades in field sports either | field.knee
Pace: high ankle, strap or dial | field.collar_pace field.closure_pace
Pace: reinforced toe | field.toe_pace
Pace: the greatest demand | field.counter_pace field.cushion_pace field.twist_bowlers field.upper_pace
Batter: light; full or half is personal | field.mass_batter field.batter_full test_batters_schools_of_spikes
How often and at what level sets the budget | field.often field.budget test_level_and_days_set_a_cricketers_budget
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
Figure boots by jumps: stiffer each | ice.figure
Rink: stiff ankle, a finger behind the heel, no lift; blunt blades | ice.rink
Toes brush the cap standing | ice.toe_room ice.toe_box
Moulded here with the maker's own, never at home; then it rests a day | ice.heat_mould ice.mould_rest
Hollow by the body's mass, blunt blades the commonest fault | ice.grind
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
A child's heel is acknowledged; a lift and cushion till a clinician has looked | caution.child_heel growing.heel_lift
Pregnancy: feet lengthen for good, measured after | caution.pregnancy
A prosthesis keeps its heel height | caution.prosthesis
An orthosis wants a deep heel | feet.orthosis_deep
A sprained ankle is fitted in its brace | feet.ankle_brace
A neuroma: wide toes, a pad behind the heads | feet.forefoot_box
A stiff big toe: a stiff forefoot | feet.stiff_toe
Legs of unlike length: a shim, by a clinician | feet.leg_length
Over 100 kg: firm foam, wide base, sooner anew | feet.very_heavy
Achilles: drop or lifts, weaned | feet.achilles_drop
A note raises what it says and nothing it denies | test_a_note_raises_what_it_says_and_nothing_it_denies
Heel pain: cushion and an insole that comes out | feet.heel_pain
Older athletes: comfort, a little more cushion, and slowly | feet.older caution.older
Changes are built up over weeks | caution.build_up
Toe shape and bumps in every sport | feet.toes feet.bunion_box
A longer shoe weighs more | feet.mass
Venue, league and maker come first | football.venue_rules cycling.race_rules lifting.equipment_rules field.rules ice.rules court.fencing_rules
Two disciplines nothing serves both: two pairs | test_what_pulls_apart_follows_the_larger_share_and_says_two_pairs test_a_thousand_pairs_for_two_have_no_nonsensical_winner
""",
    "Sizes, insides and what they give": """
EU 42 is a last of 280.0 mm, UK 8 of 279.4 | test_lasts_by_hand
Two labels as near: the larger is printed | test_a_tie_goes_to_the_larger_size
A maker's women's sizes run ahead of its men's by its own step | test_a_makers_own_step_of_womens_sizes
Widths mean what their country and maker mean | test_widths_are_what_their_country_and_their_maker_mean_by_them test_widths_of_british_lists_are_kept_as_they_are_printed
A British junior run goes on in the adults' scale | test_a_junior_run_goes_on_in_the_adults_scale
A box says a length, and how unsure it is | test_a_label_alone_says_a_length_and_how_unsure_it_is
One last in every system is one inside | test_one_last_in_every_system_is_one_inside
A width letter is three sixteenths of an inch | test_letters_are_three_sixteenths_of_an_inch_and_rise
The surest reading counts, and conflicts are said | test_readings_make_the_closed_form_posterior test_readings_that_disagree_are_said
More is never less sure, in any order | test_order_does_not_matter_and_more_is_never_less_sure
A stick says nothing of girth | test_a_stick_says_nothing_of_girth_and_what_was_learned_stands_for_the_label
A shoe isn't longer than the interference it was pressed by | test_never_more_than_pressed_nor_than_it_can test_loose_does_not_stretch
Four fifths of the give by its time | test_t80_is_when_four_fifths_are_done test_ready_when_four_fifths_of_the_give_is_done
A heel gives half as much as a ball | test_a_heel_gives_half_as_much_as_a_ball_of_the_same_measure
Structure over leather holds it | test_reinforcement_only_takes_away
A shoe should fit where all zones are likely to at once | test_four_zones_that_are_each_nearly_right_are_no_pair_that_should_fit test_hopes_fall_with_the_quality
Slack and tightness are worth less by their spans | test_half_the_slack_a_zone_bears_is_worth_half
Zones that share their errors fit no less often than said | test_zones_that_share_their_errors_fit_no_less_often_than_said
Shoes are ranked, and stood in for, by name | test_shoes_are_ranked_and_stood_in_for_by_name
""",
    "What is learned": """
The order of the evidence doesn't matter | test_the_order_of_the_evidence_does_not_matter
Several pairs on one foot share its error | test_several_pairs_on_one_foot_share_its_error
A verdict says only what could have been said | test_a_test_nobody_did_teaches_nothing_and_what_was_called_passed_neither
An instep of which slack is never said isn't learned narrow | test_an_instep_of_which_slack_is_never_said_is_not_learned_narrow
Who says fine to everything is found out | test_a_fitter_who_says_fine_to_everything_is_found_out_and_one_who_is_off_is_reckoned_with
A changed last is another model, told or untold | test_a_told_change_of_the_last_is_another_model test_an_untold_change_is_found_where_there_is_enough_to_find_it_by
What is old weighs less | test_what_is_old_weighs_less_than_what_is_new
The larger of two readings is too large on average | test_the_larger_reading_is_too_large_on_average_and_what_is_taken_isnt
What was said at the trial stays as it was said | test_what_was_said_at_the_trial_stays_as_it_was_said
A kind that gives more is found out | test_a_kind_that_gives_more_is_found_out_and_shared_by_its_models
After thirty follow-ups the next settled gap is known as well as said | test_after_thirty_follow_ups_the_next_settled_gap_is_known_as_well_as_said
A foot is known from shoes that fit | test_one_right_shoe_tells_a_foot test_more_shoes_that_agree_never_widen_it
Height, a tracing and a known maker make it surer | test_height_a_tracing_and_a_known_maker_each_make_it_surer
Wear compared as the boys' shoes were | test_the_boys_shoes
A reading counts once | test_a_reading_counts_once_though_its_models_habit_was_learned_from_it
""",
    "After the sale, and the shop": """
What is left of a pair is as likely as said | test_what_is_left_is_as_likely_as_said test_what_is_left_of_simulated_pairs_is_as_likely_as_said
Half worn after forty hours | test_half_worn_after_forty_hours
A pair worn still says it lasts longer than it has | test_a_pair_worn_still_says_it_lasts_longer_than_it_has test_lives_come_out_true_after_any_time_of_trade
A pair lasts as long in every currency | test_a_pair_lasts_as_long_in_every_currency
Buying again goes by the zone that was wrong | test_buying_again_goes_by_the_zone_that_was_wrong
A creased boot is too soft, or worn out | test_a_creased_boot_says_what_its_creases_mean
What a pair gives up is said in plain words | test_what_a_pair_gives_up_in_one_sentence test_every_feature_is_said_as_it_is_had_or_lacked_and_what_that_means
The plan of pairs is the best there is | test_the_plan_of_pairs_is_the_best_there_is test_the_plan_is_as_good_as_trying_every_choice
An older model on the same last costs less | test_an_older_model_on_the_same_last_is_named_when_it_costs_much_less
Nothing is worn in on the day of the event | test_nothing_is_worn_in_on_the_day_of_the_event
Court shoes are worn at home for a few hours first | test_court_shoes_are_worn_at_home_for_a_few_hours_first
What will never come isn't waited for | test_nobody_wears_in_what_will_never_come
A pinch at the heel by how hard it is | test_a_pinch_at_the_heel_is_answered_by_how_hard_it_is
A shoe is folded, wrung and flopped where that tells | test_a_shoe_is_folded_wrung_and_flopped_where_that_tells
Half a unit of money is rounded up | test_half_a_unit_goes_up test_half_a_unit_of_tax_is_rounded_up
Two currencies never meet | test_two_currencies_never_meet test_two_currencies_are_never_put_together_and_deposits_are_no_sales
Sums of takings are exact | test_sums_of_a_hundred_thousand_lines_are_those_of_exact_fractions
What is given back takes all its tax back | test_what_is_given_back_in_parts_takes_all_the_tax_back
One fact, by whichever door it comes | test_a_fact_is_one_by_every_door test_what_isnt_so_isnt_heard
Nothing a spec says is denied by it | test_any_brief_is_without_contradictions
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
