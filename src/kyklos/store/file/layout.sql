CREATE TABLE addition (
	liquid_id INTEGER NOT NULL, 
	at DATETIME NOT NULL, 
	what VARCHAR NOT NULL, 
	name VARCHAR NOT NULL, 
	litres FLOAT NOT NULL, 
	grams FLOAT NOT NULL, 
	id INTEGER NOT NULL, honey_share FLOAT, 
	CONSTRAINT pk_addition PRIMARY KEY (id), 
	CONSTRAINT ck_addition_amounts CHECK (litres >= 0 AND grams >= 0), 
	CONSTRAINT fk_addition_liquid_id_liquid FOREIGN KEY(liquid_id) REFERENCES liquid (id)
);
CREATE TABLE alembic_version (
	version_num VARCHAR(32) NOT NULL, 
	CONSTRAINT alembic_version_pkc PRIMARY KEY (version_num)
);
CREATE TABLE away (
	leaves DATE NOT NULL, 
	returns DATE NOT NULL, 
	at DATETIME NOT NULL, 
	back_at DATETIME, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_away PRIMARY KEY (id)
);
CREATE TABLE blind_tasting (
	at DATETIME NOT NULL, 
	brews JSON NOT NULL, 
	sheets JSON NOT NULL, 
	revealed_at DATETIME, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_blind_tasting PRIMARY KEY (id)
);
CREATE TABLE "bottle" (
	bottling_id INTEGER NOT NULL, 
	headspace_fraction FLOAT NOT NULL, 
	state VARCHAR NOT NULL, 
	gone_at DATETIME, 
	hiss INTEGER, 
	taste VARCHAR NOT NULL, 
	id INTEGER NOT NULL, 
	type_id INTEGER NOT NULL, 
	tester BOOLEAN DEFAULT 0 NOT NULL, 
	left_as VARCHAR DEFAULT '' NOT NULL, 
	cause VARCHAR DEFAULT '' NOT NULL, 
	to_whom VARCHAR DEFAULT '' NOT NULL, 
	CONSTRAINT pk_bottle PRIMARY KEY (id), 
	CONSTRAINT fk_bottle_bottling_id_bottling FOREIGN KEY(bottling_id) REFERENCES bottling (id), 
	CONSTRAINT fk_bottle_type_id_bottle_type FOREIGN KEY(type_id) REFERENCES bottle_type (id)
);
CREATE TABLE bottle_type (
	kind VARCHAR NOT NULL, 
	volume_ml FLOAT NOT NULL, 
	limit_bar FLOAT NOT NULL, 
	id INTEGER NOT NULL, owned INTEGER, retired INTEGER DEFAULT '0' NOT NULL, neck_mm FLOAT, closure VARCHAR DEFAULT '' NOT NULL, closure_since DATETIME, washed_at DATETIME, to_wash INTEGER DEFAULT '0' NOT NULL, note VARCHAR DEFAULT '' NOT NULL, version INTEGER DEFAULT '1' NOT NULL, 
	CONSTRAINT pk_bottle_type PRIMARY KEY (id), 
	CONSTRAINT uq_bottle_type_kind UNIQUE (kind, volume_ml, limit_bar)
);
CREATE TABLE "bottling" (
	brew_id INTEGER NOT NULL, 
	at DATETIME NOT NULL, 
	flavour VARCHAR NOT NULL, 
	flavour_g_per_l FLOAT NOT NULL, 
	sugar_g_per_l FLOAT NOT NULL, 
	added_sugar_g_per_l FLOAT NOT NULL, 
	note VARCHAR NOT NULL, 
	start JSON NOT NULL, 
	vigour FLOAT NOT NULL, 
	id INTEGER NOT NULL, 
	liquid_id INTEGER NOT NULL, 
	ph_after FLOAT, 
	overruled VARCHAR DEFAULT ('') NOT NULL, 
	flavour_id INTEGER, 
	infusion_id INTEGER, 
	form VARCHAR DEFAULT 'none' NOT NULL, 
	pour_yeast FLOAT DEFAULT '1.0' NOT NULL, 
	added_ethanol_g_per_l FLOAT DEFAULT '0.0' NOT NULL, 
	volumes FLOAT DEFAULT '0.6' NOT NULL, 
	wish VARCHAR DEFAULT '' NOT NULL, 
	burps VARCHAR DEFAULT 'never' NOT NULL, 
	CONSTRAINT pk_bottling PRIMARY KEY (id), 
	CONSTRAINT fk_bottling_brew_id_brew FOREIGN KEY(brew_id) REFERENCES brew (id), 
	CONSTRAINT uq_bottling_liquid_id UNIQUE (liquid_id), 
	CONSTRAINT fk_bottling_liquid_id_liquid FOREIGN KEY(liquid_id) REFERENCES liquid (id), 
	CONSTRAINT fk_bottling_flavour_id_flavour FOREIGN KEY(flavour_id) REFERENCES flavour (id), 
	CONSTRAINT fk_bottling_infusion_id_infusion FOREIGN KEY(infusion_id) REFERENCES infusion (id)
);
CREATE TABLE "brew" (
	vessel_id INTEGER NOT NULL, 
	culture_id INTEGER NOT NULL, 
	disc_id INTEGER, 
	tea VARCHAR NOT NULL, 
	leaf_g_per_l FLOAT NOT NULL, 
	sugar_g_per_l FLOAT NOT NULL, 
	honey_share FLOAT NOT NULL, 
	alkalinity_meq_per_l FLOAT NOT NULL, 
	starter_fraction FLOAT NOT NULL, 
	starter_ph FLOAT NOT NULL, 
	starter_instrument VARCHAR NOT NULL, 
	"plan" JSON NOT NULL, 
	pitched_at DATETIME NOT NULL, 
	status VARCHAR NOT NULL, 
	no_next_brew BOOLEAN NOT NULL, 
	ended_at DATETIME, 
	end_note VARCHAR NOT NULL, 
	version INTEGER NOT NULL, 
	id INTEGER NOT NULL, 
	kind VARCHAR DEFAULT 'batch' NOT NULL, 
	base VARCHAR DEFAULT ('') NOT NULL, 
	invert_share FLOAT DEFAULT '0' NOT NULL, 
	starter_kind VARCHAR DEFAULT 'fresh' NOT NULL, 
	facts JSON DEFAULT '{}' NOT NULL, 
	labelled_at DATETIME, 
	starter_yeast FLOAT, 
	starter_bacteria FLOAT, 
	liquid_id INTEGER NOT NULL, 
	starter_ta_g_per_l FLOAT, start_doubt_days FLOAT DEFAULT '0' NOT NULL, starter_tea VARCHAR DEFAULT 'black' NOT NULL, starter_leaf_g_per_l FLOAT DEFAULT '6.0' NOT NULL, starter_alkalinity_meq_per_l FLOAT DEFAULT '0.5' NOT NULL, 
	CONSTRAINT pk_brew PRIMARY KEY (id), 
	CONSTRAINT fk_brew_culture_id_culture FOREIGN KEY(culture_id) REFERENCES culture (id), 
	CONSTRAINT fk_brew_disc_id_disc FOREIGN KEY(disc_id) REFERENCES disc (id), 
	CONSTRAINT fk_brew_vessel_id_vessel FOREIGN KEY(vessel_id) REFERENCES vessel (id), 
	CONSTRAINT uq_brew_liquid_id UNIQUE (liquid_id), 
	CONSTRAINT fk_brew_liquid_id_liquid FOREIGN KEY(liquid_id) REFERENCES liquid (id)
);
CREATE TABLE "brew_day" (
	id INTEGER NOT NULL, 
	vessel_id INTEGER NOT NULL, 
	culture_id INTEGER NOT NULL, 
	disc_id INTEGER, 
	brew_id INTEGER, 
	ask JSON NOT NULL, 
	step INTEGER NOT NULL, 
	facts JSON NOT NULL, 
	started_at DATETIME NOT NULL, 
	ended_at DATETIME, 
	experiment_id INTEGER, 
	CONSTRAINT pk_brew_day PRIMARY KEY (id), 
	CONSTRAINT fk_brew_day_disc_id_disc FOREIGN KEY(disc_id) REFERENCES disc (id), 
	CONSTRAINT fk_brew_day_culture_id_culture FOREIGN KEY(culture_id) REFERENCES culture (id), 
	CONSTRAINT fk_brew_day_vessel_id_vessel FOREIGN KEY(vessel_id) REFERENCES vessel (id), 
	CONSTRAINT fk_brew_day_brew_id_brew FOREIGN KEY(brew_id) REFERENCES brew (id), 
	CONSTRAINT fk_brew_day_experiment_id_experiment FOREIGN KEY(experiment_id) REFERENCES experiment (id)
);
CREATE TABLE brew_disc (
	brew_id INTEGER NOT NULL, 
	disc_id INTEGER NOT NULL, 
	since DATETIME NOT NULL, 
	until DATETIME, 
	position INTEGER NOT NULL, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_brew_disc PRIMARY KEY (id), 
	CONSTRAINT fk_brew_disc_brew_id_brew FOREIGN KEY(brew_id) REFERENCES brew (id), 
	CONSTRAINT fk_brew_disc_disc_id_disc FOREIGN KEY(disc_id) REFERENCES disc (id)
);
CREATE TABLE brew_stay (
	brew_id INTEGER NOT NULL, 
	vessel_id INTEGER NOT NULL, 
	since DATETIME NOT NULL, 
	until DATETIME NOT NULL, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_brew_stay PRIMARY KEY (id), 
	CONSTRAINT fk_brew_stay_brew_id_brew FOREIGN KEY(brew_id) REFERENCES brew (id), 
	CONSTRAINT fk_brew_stay_vessel_id_vessel FOREIGN KEY(vessel_id) REFERENCES vessel (id)
);
CREATE TABLE buffer_bottle (
	id INTEGER NOT NULL, 
	buffer INTEGER NOT NULL, 
	opened_on DATE, 
	best_before DATE, 
	ended_at DATETIME, 
	CONSTRAINT pk_buffer_bottle PRIMARY KEY (id)
);
CREATE TABLE calibration (
	instrument_id INTEGER NOT NULL, 
	at DATETIME NOT NULL, 
	at_seven BOOLEAN NOT NULL, 
	at_four BOOLEAN NOT NULL, 
	off_by FLOAT, 
	id INTEGER NOT NULL, slope FLOAT, offset_mv FLOAT, judged VARCHAR DEFAULT '' NOT NULL, points JSON DEFAULT '[]' NOT NULL, sets_it BOOLEAN DEFAULT '1' NOT NULL, 
	CONSTRAINT pk_calibration PRIMARY KEY (id), 
	CONSTRAINT fk_calibration_instrument_id_instrument FOREIGN KEY(instrument_id) REFERENCES instrument (id)
);
CREATE TABLE care_done (
	id INTEGER NOT NULL, 
	what VARCHAR NOT NULL, 
	at DATETIME NOT NULL, 
	with_what VARCHAR NOT NULL, 
	CONSTRAINT pk_care_done PRIMARY KEY (id)
);
CREATE TABLE care_rhythm (
	id INTEGER NOT NULL, 
	what VARCHAR NOT NULL, 
	every_days FLOAT NOT NULL, 
	CONSTRAINT pk_care_rhythm PRIMARY KEY (id), 
	CONSTRAINT uq_care_rhythm_what UNIQUE (what)
);
CREATE TABLE "change" (
	action VARCHAR NOT NULL, 
	says VARCHAR NOT NULL, 
	at DATETIME NOT NULL, 
	undone_at DATETIME, 
	rows JSON NOT NULL, 
	id INTEGER NOT NULL, 
	layout VARCHAR DEFAULT ('') NOT NULL, 
	sent_as VARCHAR, 
	CONSTRAINT pk_change PRIMARY KEY (id), 
	CONSTRAINT uq_change_sent_as UNIQUE (sent_as)
);
CREATE TABLE comparison (
	at DATETIME NOT NULL, 
	glasses JSON NOT NULL, 
	question VARCHAR NOT NULL, 
	revealed_at DATETIME, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_comparison PRIMARY KEY (id)
);
CREATE TABLE conversion (
	culture_id INTEGER NOT NULL, 
	target VARCHAR NOT NULL, 
	step FLOAT NOT NULL, 
	started_at DATETIME NOT NULL, 
	ended_at DATETIME, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_conversion PRIMARY KEY (id), 
	CONSTRAINT fk_conversion_culture_id_culture FOREIGN KEY(culture_id) REFERENCES culture (id)
);
CREATE TABLE "culture" (
	name VARCHAR NOT NULL, 
	diet VARCHAR NOT NULL, 
	origin VARCHAR NOT NULL, 
	story VARCHAR NOT NULL, 
	started_at DATETIME NOT NULL, 
	id INTEGER NOT NULL, 
	parent_id INTEGER, 
	passport JSON DEFAULT '{}' NOT NULL, 
	passport_key VARCHAR DEFAULT '' NOT NULL, 
	backups_wanted INTEGER DEFAULT '1' NOT NULL, version INTEGER DEFAULT '1' NOT NULL, 
	CONSTRAINT pk_culture PRIMARY KEY (id), 
	CONSTRAINT fk_culture_parent_id_culture FOREIGN KEY(parent_id) REFERENCES culture (id)
);
CREATE TABLE cupboard_count (
	id INTEGER NOT NULL, 
	kind VARCHAR NOT NULL, 
	"key" VARCHAR NOT NULL, 
	amount FLOAT NOT NULL, 
	day DATE NOT NULL, 
	at DATETIME NOT NULL, 
	CONSTRAINT pk_cupboard_count PRIMARY KEY (id), 
	CONSTRAINT ck_cupboard_count_amount CHECK (amount >= 0)
);
CREATE TABLE cut_link (
	source_kind VARCHAR NOT NULL, 
	source_id INTEGER NOT NULL, 
	target_kind VARCHAR NOT NULL, 
	target_id INTEGER NOT NULL, 
	at DATETIME NOT NULL, 
	reason VARCHAR NOT NULL, 
	opened_at DATETIME, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_cut_link PRIMARY KEY (id)
);
CREATE TABLE data_key (
	id INTEGER NOT NULL, 
	name VARCHAR NOT NULL, 
	key_sum VARCHAR NOT NULL, 
	made_at DATETIME NOT NULL, 
	used_at DATETIME, 
	CONSTRAINT pk_data_key PRIMARY KEY (id), 
	CONSTRAINT uq_data_key_key_sum UNIQUE (key_sum)
);
CREATE TABLE device (
	id INTEGER NOT NULL, 
	kind VARCHAR NOT NULL, 
	name VARCHAR NOT NULL, 
	serial VARCHAR NOT NULL, 
	instrument_id INTEGER, 
	paired_at DATETIME NOT NULL, 
	ended_at DATETIME, 
	version INTEGER NOT NULL, 
	CONSTRAINT pk_device PRIMARY KEY (id), 
	CONSTRAINT fk_device_instrument_id_instrument FOREIGN KEY(instrument_id) REFERENCES instrument (id)
);
CREATE TABLE device_doubt (
	id INTEGER NOT NULL, 
	device_id INTEGER NOT NULL, 
	since DATETIME NOT NULL, 
	until DATETIME NOT NULL, 
	why VARCHAR NOT NULL, 
	CONSTRAINT pk_device_doubt PRIMARY KEY (id), 
	CONSTRAINT fk_device_doubt_device_id_device FOREIGN KEY(device_id) REFERENCES device (id)
);
CREATE TABLE device_landing (
	id INTEGER NOT NULL, 
	name VARCHAR NOT NULL, 
	number INTEGER NOT NULL, 
	CONSTRAINT pk_device_landing PRIMARY KEY (id)
);
CREATE TABLE device_reading (
	id INTEGER NOT NULL, 
	device_id INTEGER NOT NULL, 
	at_s FLOAT NOT NULL, 
	celsius FLOAT, 
	ph FLOAT, 
	millivolts FLOAT, 
	grams FLOAT, 
	CONSTRAINT pk_device_reading PRIMARY KEY (id)
);
CREATE TABLE device_standing (
	id INTEGER NOT NULL, 
	device_id INTEGER NOT NULL, 
	vessel_id INTEGER, 
	place_id INTEGER, 
	since DATETIME NOT NULL, 
	until DATETIME, 
	CONSTRAINT pk_device_standing PRIMARY KEY (id), 
	CONSTRAINT fk_device_standing_device_id_device FOREIGN KEY(device_id) REFERENCES device (id), 
	CONSTRAINT fk_device_standing_vessel_id_vessel FOREIGN KEY(vessel_id) REFERENCES vessel (id), 
	CONSTRAINT fk_device_standing_place_id_place FOREIGN KEY(place_id) REFERENCES place (id)
);
CREATE TABLE device_state (
	id INTEGER NOT NULL, 
	device_id INTEGER NOT NULL, 
	token_sum VARCHAR, 
	seen_at DATETIME, 
	read_at DATETIME, 
	battery FLOAT, 
	skew_s FLOAT NOT NULL, 
	interval_s FLOAT, 
	celsius FLOAT, 
	ph FLOAT, 
	millivolts FLOAT, 
	grams FLOAT, 
	still BOOLEAN NOT NULL, 
	followed JSON NOT NULL, 
	outlook JSON NOT NULL, 
	CONSTRAINT pk_device_state PRIMARY KEY (id), 
	CONSTRAINT fk_device_state_device_id_device FOREIGN KEY(device_id) REFERENCES device (id) ON DELETE CASCADE, 
	CONSTRAINT uq_device_state_device_id UNIQUE (device_id), 
	CONSTRAINT uq_device_state_token_sum UNIQUE (token_sum)
);
CREATE TABLE "disc" (
	name VARCHAR NOT NULL, 
	culture_id INTEGER NOT NULL, 
	born_brew_id INTEGER, 
	ended_at DATETIME, 
	id INTEGER NOT NULL, 
	parent_id INTEGER, 
	made_at DATETIME, 
	thickness_mm FLOAT, 
	diameter_cm FLOAT, 
	ended_as VARCHAR DEFAULT '' NOT NULL, 
	ended_note VARCHAR DEFAULT '' NOT NULL, 
	CONSTRAINT pk_disc PRIMARY KEY (id), 
	CONSTRAINT fk_disc_born_brew_id_brew FOREIGN KEY(born_brew_id) REFERENCES brew (id), 
	CONSTRAINT fk_disc_culture_id_culture FOREIGN KEY(culture_id) REFERENCES culture (id), 
	CONSTRAINT fk_disc_parent_id_disc FOREIGN KEY(parent_id) REFERENCES disc (id)
);
CREATE TABLE disc_event (
	disc_id INTEGER NOT NULL, 
	at DATETIME NOT NULL, 
	kind VARCHAR NOT NULL, 
	thickness_mm FLOAT, 
	diameter_cm FLOAT, 
	note VARCHAR NOT NULL, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_disc_event PRIMARY KEY (id), 
	CONSTRAINT fk_disc_event_disc_id_disc FOREIGN KEY(disc_id) REFERENCES disc (id)
);
CREATE TABLE experiment (
	id INTEGER NOT NULL, 
	question VARCHAR NOT NULL, 
	changed VARCHAR NOT NULL, 
	kind VARCHAR NOT NULL, 
	arms JSON NOT NULL, 
	labels JSON NOT NULL, 
	sheets JSON NOT NULL, 
	triangles JSON NOT NULL, 
	started_at DATETIME NOT NULL, 
	revealed_at DATETIME, 
	ended_at DATETIME, 
	lesson_id INTEGER, 
	version INTEGER NOT NULL, 
	CONSTRAINT pk_experiment PRIMARY KEY (id), 
	CONSTRAINT fk_experiment_lesson_id_kept_lesson FOREIGN KEY(lesson_id) REFERENCES kept_lesson (id)
);
CREATE TABLE flavour (
	name VARCHAR NOT NULL, 
	note VARCHAR NOT NULL, 
	priming_g_per_l FLOAT NOT NULL, 
	hours FLOAT, 
	retired BOOLEAN NOT NULL, 
	kept_at DATETIME NOT NULL, 
	version INTEGER NOT NULL, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_flavour PRIMARY KEY (id)
);
CREATE TABLE flavour_part (
	flavour_id INTEGER NOT NULL, 
	ingredient VARCHAR NOT NULL, 
	form VARCHAR NOT NULL, 
	moment VARCHAR NOT NULL, 
	g_per_l FLOAT NOT NULL, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_flavour_part PRIMARY KEY (id), 
	CONSTRAINT fk_flavour_part_flavour_id_flavour FOREIGN KEY(flavour_id) REFERENCES flavour (id)
);
CREATE VIRTUAL TABLE found USING fts5(title, body, kind UNINDEXED, number UNINDEXED, at UNINDEXED, about UNINDEXED, about_id UNINDEXED, tokenize = 'porter unicode61 remove_diacritics 2');
CREATE VIRTUAL TABLE found_words USING fts5vocab(found, row);
CREATE TABLE "gift" (
	culture_id INTEGER NOT NULL, 
	at DATETIME NOT NULL, 
	outward BOOLEAN NOT NULL, 
	disc_id INTEGER, 
	who VARCHAR NOT NULL, 
	still_holds BOOLEAN NOT NULL, 
	note VARCHAR NOT NULL, 
	id INTEGER NOT NULL, 
	transfer_id INTEGER, 
	CONSTRAINT pk_gift PRIMARY KEY (id), 
	CONSTRAINT fk_gift_disc_id_disc FOREIGN KEY(disc_id) REFERENCES disc (id), 
	CONSTRAINT fk_gift_culture_id_culture FOREIGN KEY(culture_id) REFERENCES culture (id), 
	CONSTRAINT fk_gift_transfer_id_transfer FOREIGN KEY(transfer_id) REFERENCES transfer (id)
);
CREATE TABLE hearing (
	bottle_id INTEGER NOT NULL, 
	at DATETIME NOT NULL, 
	how VARCHAR NOT NULL, 
	hiss INTEGER, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_hearing PRIMARY KEY (id), 
	CONSTRAINT fk_hearing_bottle_id_bottle FOREIGN KEY(bottle_id) REFERENCES bottle (id)
);
CREATE TABLE "hotel_feed" (
	vessel_id INTEGER NOT NULL, 
	at DATETIME NOT NULL, 
	ph FLOAT, 
	note VARCHAR NOT NULL, 
	id INTEGER NOT NULL, 
	fresh_cover BOOLEAN DEFAULT 0 NOT NULL, 
	addition_id INTEGER, 
	transfer_id INTEGER, 
	CONSTRAINT pk_hotel_feed PRIMARY KEY (id), 
	CONSTRAINT fk_hotel_feed_vessel_id_vessel FOREIGN KEY(vessel_id) REFERENCES vessel (id), 
	CONSTRAINT fk_hotel_feed_addition_id_addition FOREIGN KEY(addition_id) REFERENCES addition (id), 
	CONSTRAINT fk_hotel_feed_transfer_id_transfer FOREIGN KEY(transfer_id) REFERENCES transfer (id)
);
CREATE TABLE hotel_stay (
	disc_id INTEGER NOT NULL, 
	vessel_id INTEGER NOT NULL, 
	since DATETIME NOT NULL, 
	until DATETIME, 
	id INTEGER NOT NULL, position INTEGER DEFAULT '1' NOT NULL, 
	CONSTRAINT pk_hotel_stay PRIMARY KEY (id), 
	CONSTRAINT fk_hotel_stay_disc_id_disc FOREIGN KEY(disc_id) REFERENCES disc (id), 
	CONSTRAINT fk_hotel_stay_vessel_id_vessel FOREIGN KEY(vessel_id) REFERENCES vessel (id)
);
CREATE TABLE "household" (
	name VARCHAR NOT NULL, 
	units VARCHAR NOT NULL, 
	zone VARCHAR NOT NULL, 
	theme VARCHAR NOT NULL, 
	sample BOOLEAN NOT NULL, 
	version INTEGER NOT NULL, 
	id INTEGER NOT NULL, 
	southern BOOLEAN DEFAULT 0 NOT NULL, 
	quiet_from INTEGER DEFAULT '21' NOT NULL, 
	quiet_to INTEGER DEFAULT '7' NOT NULL, 
	feed_key VARCHAR DEFAULT ('') NOT NULL, 
	reads_ph VARCHAR DEFAULT ('') NOT NULL, 
	power_price FLOAT, 
	glass_l FLOAT, 
	currency VARCHAR NOT NULL, 
	shop_price FLOAT, 
	shop_ml FLOAT, raw_days FLOAT DEFAULT '90' NOT NULL, 
	CONSTRAINT pk_household PRIMARY KEY (id)
);
CREATE TABLE infusion (
	liquid_id INTEGER NOT NULL, 
	brew_id INTEGER NOT NULL, 
	flavour_id INTEGER, 
	name VARCHAR NOT NULL, 
	place_id INTEGER NOT NULL, 
	cover VARCHAR NOT NULL, 
	began_at DATETIME NOT NULL, 
	hours FLOAT NOT NULL, 
	strained_at DATETIME, 
	ended_at DATETIME, 
	start JSON NOT NULL, 
	vigour FLOAT NOT NULL, 
	ph_after FLOAT, 
	note VARCHAR NOT NULL, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_infusion PRIMARY KEY (id), 
	CONSTRAINT fk_infusion_liquid_id_liquid FOREIGN KEY(liquid_id) REFERENCES liquid (id), 
	CONSTRAINT fk_infusion_brew_id_brew FOREIGN KEY(brew_id) REFERENCES brew (id), 
	CONSTRAINT fk_infusion_flavour_id_flavour FOREIGN KEY(flavour_id) REFERENCES flavour (id), 
	CONSTRAINT fk_infusion_place_id_place FOREIGN KEY(place_id) REFERENCES place (id), 
	CONSTRAINT uq_infusion_liquid_id UNIQUE (liquid_id)
);
CREATE TABLE instrument (
	kind VARCHAR NOT NULL, 
	name VARCHAR NOT NULL, 
	error FLOAT, 
	interval_days FLOAT, 
	retired_at DATETIME, 
	id INTEGER NOT NULL, version INTEGER DEFAULT '1' NOT NULL, 
	CONSTRAINT pk_instrument PRIMARY KEY (id)
);
CREATE TABLE kept_lesson (
	id INTEGER NOT NULL, 
	"key" VARCHAR NOT NULL, 
	text VARCHAR NOT NULL, 
	standing VARCHAR NOT NULL, 
	applies JSON NOT NULL, 
	evidence JSON NOT NULL, 
	helped INTEGER NOT NULL, 
	at DATETIME NOT NULL, 
	version INTEGER NOT NULL, 
	CONSTRAINT pk_kept_lesson PRIMARY KEY (id)
);
CREATE TABLE kitchen_day (
	id INTEGER NOT NULL, 
	walk JSON NOT NULL, 
	done JSON NOT NULL, 
	began_at DATETIME NOT NULL, 
	ended_at DATETIME, 
	CONSTRAINT pk_kitchen_day PRIMARY KEY (id)
);
CREATE TABLE known_reading (
	id INTEGER NOT NULL, 
	CONSTRAINT pk_known_reading PRIMARY KEY (id)
);
CREATE TABLE larder_item (
	ingredient VARCHAR NOT NULL, 
	"where" VARCHAR NOT NULL, 
	grams FLOAT, 
	since DATETIME NOT NULL, 
	gone_at DATETIME, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_larder_item PRIMARY KEY (id)
);
CREATE TABLE lesson (
	brew_id INTEGER NOT NULL, 
	stale BOOLEAN NOT NULL, 
	rules VARCHAR NOT NULL, 
	fingerprint VARCHAR NOT NULL, 
	revision INTEGER NOT NULL, 
	yeast_vigour FLOAT, 
	bacteria_vigour FLOAT, 
	yeast_sd FLOAT, 
	bacteria_sd FLOAT, 
	mean_c FLOAT, 
	expected_day FLOAT, 
	reached_day FLOAT, 
	jun BOOLEAN NOT NULL, 
	tasted JSON NOT NULL, 
	tests JSON NOT NULL, 
	id INTEGER NOT NULL, buffer FLOAT, covariance JSON DEFAULT '[]' NOT NULL, 
	CONSTRAINT pk_lesson PRIMARY KEY (id), 
	CONSTRAINT fk_lesson_brew_id_brew FOREIGN KEY(brew_id) REFERENCES brew (id) ON DELETE CASCADE, 
	CONSTRAINT uq_lesson_brew_id UNIQUE (brew_id)
);
CREATE TABLE liquid (
	kind VARCHAR NOT NULL, 
	began_at DATETIME NOT NULL, 
	ended_at DATETIME, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_liquid PRIMARY KEY (id)
);
CREATE TABLE list_item (
	id INTEGER NOT NULL, 
	kind VARCHAR NOT NULL, 
	"key" VARCHAR NOT NULL, 
	amount FLOAT NOT NULL, 
	at DATETIME NOT NULL, 
	ended_at DATETIME, 
	purchase_id INTEGER, 
	CONSTRAINT pk_list_item PRIMARY KEY (id), 
	CONSTRAINT fk_list_item_purchase_id_purchase FOREIGN KEY(purchase_id) REFERENCES purchase (id)
);
CREATE TABLE "look" (
	at DATETIME NOT NULL, 
	surface VARCHAR NOT NULL, 
	id INTEGER NOT NULL, 
	signs JSON DEFAULT '[]' NOT NULL, 
	smell VARCHAR DEFAULT ('') NOT NULL, 
	note VARCHAR DEFAULT ('') NOT NULL, 
	struck BOOLEAN DEFAULT '0' NOT NULL, 
	struck_at DATETIME, 
	liquid_id INTEGER NOT NULL, mistaken VARCHAR DEFAULT '' NOT NULL, 
	CONSTRAINT pk_look PRIMARY KEY (id), 
	CONSTRAINT fk_look_liquid_id_liquid FOREIGN KEY(liquid_id) REFERENCES liquid (id)
);
CREATE TABLE "note" (
	at DATETIME NOT NULL, 
	text VARCHAR NOT NULL, 
	struck BOOLEAN NOT NULL, 
	struck_at DATETIME, 
	id INTEGER NOT NULL, 
	about VARCHAR NOT NULL, 
	about_id INTEGER NOT NULL, 
	taster_id INTEGER, photo_sha VARCHAR, 
	CONSTRAINT pk_note PRIMARY KEY (id), 
	CONSTRAINT fk_note_taster_id_taster FOREIGN KEY(taster_id) REFERENCES taster (id)
);
CREATE TABLE outdoor_hour (
	id INTEGER NOT NULL, 
	hour INTEGER NOT NULL, 
	celsius FLOAT NOT NULL, 
	CONSTRAINT pk_outdoor_hour PRIMARY KEY (id), 
	CONSTRAINT uq_outdoor_hour_hour UNIQUE (hour)
);
CREATE TABLE overrule (
	brew_id INTEGER NOT NULL, 
	at DATETIME NOT NULL, 
	was VARCHAR NOT NULL, 
	word VARCHAR NOT NULL, 
	reason VARCHAR NOT NULL, 
	against JSON NOT NULL, 
	struck BOOLEAN NOT NULL, 
	struck_at DATETIME, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_overrule PRIMARY KEY (id), 
	CONSTRAINT fk_overrule_brew_id_brew FOREIGN KEY(brew_id) REFERENCES brew (id)
);
CREATE TABLE own_ingredient (
	name VARCHAR NOT NULL, 
	form VARCHAR NOT NULL, 
	sugar FLOAT NOT NULL, 
	acid_g_per_l FLOAT, 
	ph FLOAT, 
	abv FLOAT NOT NULL, 
	preserved BOOLEAN NOT NULL, 
	unit VARCHAR NOT NULL, 
	unit_g FLOAT NOT NULL, 
	piece_mm FLOAT NOT NULL, 
	months JSON NOT NULL, 
	allergens VARCHAR NOT NULL, 
	note VARCHAR NOT NULL, 
	retired BOOLEAN NOT NULL, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_own_ingredient PRIMARY KEY (id)
);
CREATE TABLE pairing (
	id INTEGER NOT NULL, 
	secret_sum VARCHAR NOT NULL, 
	code VARCHAR NOT NULL, 
	name VARCHAR NOT NULL, 
	kind VARCHAR NOT NULL, 
	serial VARCHAR NOT NULL, 
	asked_at DATETIME NOT NULL, 
	asked_by VARCHAR NOT NULL, 
	state VARCHAR NOT NULL, 
	device_id INTEGER, 
	CONSTRAINT pk_pairing PRIMARY KEY (id), 
	CONSTRAINT fk_pairing_device_id_device FOREIGN KEY(device_id) REFERENCES device (id) ON DELETE SET NULL, 
	CONSTRAINT uq_pairing_secret_sum UNIQUE (secret_sum)
);
CREATE TABLE "photo" (
	look_id INTEGER, 
	at DATETIME NOT NULL, 
	sha VARCHAR NOT NULL, 
	width INTEGER NOT NULL, 
	height INTEGER NOT NULL, 
	note VARCHAR NOT NULL, 
	struck BOOLEAN NOT NULL, 
	struck_at DATETIME, 
	id INTEGER NOT NULL, 
	liquid_id INTEGER NOT NULL, 
	CONSTRAINT pk_photo PRIMARY KEY (id), 
	CONSTRAINT fk_photo_look_id_look FOREIGN KEY(look_id) REFERENCES look (id), 
	CONSTRAINT fk_photo_liquid_id_liquid FOREIGN KEY(liquid_id) REFERENCES liquid (id)
);
CREATE TABLE photo_content (
	sha VARCHAR NOT NULL, 
	large BLOB NOT NULL, 
	small BLOB NOT NULL, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_photo_content PRIMARY KEY (id), 
	CONSTRAINT uq_photo_content_sha UNIQUE (sha)
);
CREATE TABLE place (
	name VARCHAR NOT NULL, 
	celsius FLOAT NOT NULL, 
	position INTEGER NOT NULL, 
	id INTEGER NOT NULL, winter_c FLOAT, summer_c FLOAT, light VARCHAR DEFAULT 'shade' NOT NULL, reach VARCHAR DEFAULT 'easy' NOT NULL, rivals BOOLEAN DEFAULT 0 NOT NULL, kind VARCHAR DEFAULT 'room' NOT NULL, version INTEGER DEFAULT '1' NOT NULL, 
	CONSTRAINT pk_place PRIMARY KEY (id)
);
CREATE TABLE "planned_day" (
	kind VARCHAR NOT NULL, 
	vessel_id INTEGER NOT NULL, 
	brew_id INTEGER, 
	day DATE NOT NULL, 
	at DATETIME NOT NULL, 
	done_at DATETIME, 
	id INTEGER NOT NULL, 
	litres FLOAT, 
	by_plan BOOLEAN NOT NULL, 
	CONSTRAINT pk_planned_day PRIMARY KEY (id), 
	CONSTRAINT fk_planned_day_brew_id_brew FOREIGN KEY(brew_id) REFERENCES brew (id), 
	CONSTRAINT fk_planned_day_vessel_id_vessel FOREIGN KEY(vessel_id) REFERENCES vessel (id)
);
CREATE TABLE practice_card (
	id INTEGER NOT NULL, 
	person INTEGER NOT NULL, 
	deck VARCHAR NOT NULL, 
	card VARCHAR NOT NULL, 
	box INTEGER NOT NULL, 
	due INTEGER NOT NULL, 
	seen INTEGER NOT NULL, 
	unsafe BOOLEAN NOT NULL, 
	answers INTEGER NOT NULL, 
	misses INTEGER NOT NULL, 
	CONSTRAINT pk_practice_card PRIMARY KEY (id), 
	CONSTRAINT uq_practice_card_person UNIQUE (person, deck, card)
);
CREATE TABLE practice_mix (
	id INTEGER NOT NULL, 
	person INTEGER NOT NULL, 
	deck VARCHAR NOT NULL, 
	was VARCHAR NOT NULL, 
	taken_for VARCHAR NOT NULL, 
	times INTEGER NOT NULL, 
	unsafe INTEGER NOT NULL, 
	CONSTRAINT pk_practice_mix PRIMARY KEY (id), 
	CONSTRAINT uq_practice_mix_person UNIQUE (person, deck, was, taken_for)
);
CREATE TABLE practice_season (
	id INTEGER NOT NULL, 
	person INTEGER NOT NULL, 
	seed INTEGER NOT NULL, 
	moves VARCHAR NOT NULL, 
	at DATETIME NOT NULL, 
	CONSTRAINT pk_practice_season PRIMARY KEY (id), 
	CONSTRAINT uq_practice_season_person UNIQUE (person)
);
CREATE TABLE purchase (
	id INTEGER NOT NULL, 
	kind VARCHAR NOT NULL, 
	"key" VARCHAR NOT NULL, 
	amount FLOAT NOT NULL, 
	price FLOAT, 
	day DATE NOT NULL, 
	best_before DATE, 
	at DATETIME NOT NULL, 
	version INTEGER NOT NULL, 
	CONSTRAINT pk_purchase PRIMARY KEY (id), 
	CONSTRAINT ck_purchase_amount CHECK (amount > 0)
);
CREATE TABLE put_off (
	what VARCHAR NOT NULL, 
	at DATETIME NOT NULL, 
	until DATETIME NOT NULL, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_put_off PRIMARY KEY (id)
);
CREATE TABLE quarantine (
	kind VARCHAR NOT NULL, 
	number INTEGER NOT NULL, 
	since DATETIME NOT NULL, 
	reason VARCHAR NOT NULL, 
	lifted_at DATETIME, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_quarantine PRIMARY KEY (id)
);
CREATE TABLE "reading" (
	at DATETIME NOT NULL, 
	ph FLOAT, 
	instrument VARCHAR NOT NULL, 
	celsius FLOAT, 
	note VARCHAR NOT NULL, 
	struck BOOLEAN NOT NULL, 
	id INTEGER NOT NULL, 
	instrument_id INTEGER, 
	low_c FLOAT, 
	high_c FLOAT, 
	gravity FLOAT, 
	gravity_by VARCHAR DEFAULT ('') NOT NULL, 
	ta_g_per_l FLOAT, 
	titration JSON DEFAULT '{}' NOT NULL, 
	depth VARCHAR DEFAULT ('') NOT NULL, 
	struck_at DATETIME, 
	replaces_id INTEGER, 
	liquid_id INTEGER NOT NULL, 
	degassed BOOLEAN DEFAULT '0' NOT NULL, 
	device_id INTEGER, 
	millivolts FLOAT, 
	CONSTRAINT pk_reading PRIMARY KEY (id), 
	CONSTRAINT fk_reading_instrument_id_instrument FOREIGN KEY(instrument_id) REFERENCES instrument (id), 
	CONSTRAINT fk_reading_liquid_id_liquid FOREIGN KEY(liquid_id) REFERENCES liquid (id), 
	CONSTRAINT fk_reading_replaces_id_reading FOREIGN KEY(replaces_id) REFERENCES reading (id), 
	CONSTRAINT fk_reading_device_id_device FOREIGN KEY(device_id) REFERENCES device (id)
);
CREATE TABLE recipe (
	id INTEGER NOT NULL, 
	name VARCHAR NOT NULL, 
	note VARCHAR NOT NULL, 
	card JSON NOT NULL, 
	made_at DATETIME NOT NULL, 
	dropped_at DATETIME, 
	version INTEGER NOT NULL, 
	CONSTRAINT pk_recipe PRIMARY KEY (id)
);
CREATE TABLE score (
	at DATETIME NOT NULL, 
	bottling_id INTEGER NOT NULL, 
	bottle_id INTEGER, 
	taster_id INTEGER NOT NULL, 
	comparison_id INTEGER, 
	liked INTEGER NOT NULL, 
	again BOOLEAN, 
	sheet JSON NOT NULL, 
	word VARCHAR NOT NULL, 
	next_time VARCHAR NOT NULL, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_score PRIMARY KEY (id), 
	CONSTRAINT fk_score_bottling_id_bottling FOREIGN KEY(bottling_id) REFERENCES bottling (id), 
	CONSTRAINT fk_score_bottle_id_bottle FOREIGN KEY(bottle_id) REFERENCES bottle (id), 
	CONSTRAINT fk_score_taster_id_taster FOREIGN KEY(taster_id) REFERENCES taster (id), 
	CONSTRAINT fk_score_comparison_id_comparison FOREIGN KEY(comparison_id) REFERENCES comparison (id)
);
CREATE TABLE set_point (
	id INTEGER NOT NULL, 
	device_id INTEGER NOT NULL, 
	at DATETIME NOT NULL, 
	celsius FLOAT, 
	how VARCHAR NOT NULL, 
	until DATETIME, 
	CONSTRAINT pk_set_point PRIMARY KEY (id), 
	CONSTRAINT fk_set_point_device_id_device FOREIGN KEY(device_id) REFERENCES device (id)
);
CREATE TABLE sheet_shape (
	id INTEGER NOT NULL, 
	shape VARCHAR NOT NULL, 
	said JSON NOT NULL, 
	at DATETIME NOT NULL, 
	CONSTRAINT pk_sheet_shape PRIMARY KEY (id), 
	CONSTRAINT uq_sheet_shape_shape UNIQUE (shape)
);
CREATE TABLE spot_reading (
	id INTEGER NOT NULL, 
	place_id INTEGER NOT NULL, 
	at DATETIME NOT NULL, 
	celsius FLOAT NOT NULL, 
	CONSTRAINT pk_spot_reading PRIMARY KEY (id), 
	CONSTRAINT fk_spot_reading_place_id_place FOREIGN KEY(place_id) REFERENCES place (id)
);
CREATE TABLE standing (
	vessel_id INTEGER, 
	bottle_id INTEGER, 
	place_id INTEGER NOT NULL, 
	heater_c FLOAT, 
	since DATETIME NOT NULL, 
	until DATETIME, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_standing PRIMARY KEY (id), 
	CONSTRAINT ck_standing_whose CHECK ((vessel_id IS NULL) <> (bottle_id IS NULL)), 
	CONSTRAINT fk_standing_bottle_id_bottle FOREIGN KEY(bottle_id) REFERENCES bottle (id), 
	CONSTRAINT fk_standing_place_id_place FOREIGN KEY(place_id) REFERENCES place (id), 
	CONSTRAINT fk_standing_vessel_id_vessel FOREIGN KEY(vessel_id) REFERENCES vessel (id)
);
CREATE TABLE "starter_lot" (
	culture_id INTEGER NOT NULL, 
	made_at DATETIME NOT NULL, 
	ph FLOAT, 
	instrument VARCHAR NOT NULL, 
	estimated_ph FLOAT, 
	id INTEGER NOT NULL, 
	kept_in VARCHAR DEFAULT 'shelf' NOT NULL, 
	kind VARCHAR DEFAULT 'fresh' NOT NULL, 
	ta_g_per_l FLOAT, 
	ripe_since DATETIME, 
	doubt VARCHAR DEFAULT ('') NOT NULL, 
	liquid_id INTEGER NOT NULL, read_at DATETIME, 
	CONSTRAINT pk_starter_lot PRIMARY KEY (id), 
	CONSTRAINT fk_starter_lot_culture_id_culture FOREIGN KEY(culture_id) REFERENCES culture (id), 
	CONSTRAINT uq_starter_lot_liquid_id UNIQUE (liquid_id), 
	CONSTRAINT fk_starter_lot_liquid_id_liquid FOREIGN KEY(liquid_id) REFERENCES liquid (id)
);
CREATE TABLE tasted_then (
	id INTEGER NOT NULL, 
	tasting_id INTEGER NOT NULL, 
	ta_g_per_l FLOAT NOT NULL, 
	sd FLOAT NOT NULL, 
	CONSTRAINT pk_tasted_then PRIMARY KEY (id), 
	CONSTRAINT fk_tasted_then_tasting_id_tasting FOREIGN KEY(tasting_id) REFERENCES tasting (id) ON DELETE CASCADE, 
	CONSTRAINT uq_tasted_then_tasting_id UNIQUE (tasting_id)
);
CREATE TABLE taster (
	name VARCHAR NOT NULL, 
	position INTEGER NOT NULL, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_taster PRIMARY KEY (id)
);
CREATE TABLE "tasting" (
	taster_id INTEGER NOT NULL, 
	at DATETIME NOT NULL, 
	score INTEGER NOT NULL, 
	struck BOOLEAN NOT NULL, 
	id INTEGER NOT NULL, 
	tea INTEGER, 
	yeast INTEGER, 
	again BOOLEAN, 
	"after" VARCHAR DEFAULT ('') NOT NULL, 
	note VARCHAR DEFAULT ('') NOT NULL, 
	blind BOOLEAN DEFAULT '0' NOT NULL, 
	struck_at DATETIME, 
	liquid_id INTEGER NOT NULL, 
	CONSTRAINT pk_tasting PRIMARY KEY (id), 
	CONSTRAINT fk_tasting_taster_id_taster FOREIGN KEY(taster_id) REFERENCES taster (id), 
	CONSTRAINT fk_tasting_liquid_id_liquid FOREIGN KEY(liquid_id) REFERENCES liquid (id)
);
CREATE TABLE "temperature_log" (
	brew_id INTEGER, 
	place_id INTEGER, 
	name VARCHAR NOT NULL, 
	at DATETIME NOT NULL, 
	points JSON NOT NULL, 
	struck BOOLEAN NOT NULL, 
	struck_at DATETIME, 
	id INTEGER NOT NULL, 
	first_s FLOAT DEFAULT '0' NOT NULL, 
	last_s FLOAT DEFAULT '0' NOT NULL, 
	device_id INTEGER, 
	doubtful JSON DEFAULT '[]' NOT NULL, 
	CONSTRAINT pk_temperature_log PRIMARY KEY (id), 
	CONSTRAINT fk_temperature_log_place_id_place FOREIGN KEY(place_id) REFERENCES place (id), 
	CONSTRAINT fk_temperature_log_brew_id_brew FOREIGN KEY(brew_id) REFERENCES brew (id), 
	CONSTRAINT fk_temperature_log_device_id_device FOREIGN KEY(device_id) REFERENCES device (id)
);
CREATE TABLE timer (
	id INTEGER NOT NULL, 
	day_id INTEGER NOT NULL, 
	step VARCHAR NOT NULL, 
	name VARCHAR NOT NULL, 
	started_at DATETIME NOT NULL, 
	ends_at DATETIME NOT NULL, 
	stopped_at DATETIME, 
	CONSTRAINT pk_timer PRIMARY KEY (id), 
	CONSTRAINT fk_timer_day_id_brew_day FOREIGN KEY(day_id) REFERENCES brew_day (id)
);
CREATE TABLE tool (
	id INTEGER NOT NULL, 
	kind VARCHAR NOT NULL, 
	name VARCHAR NOT NULL, 
	litres FLOAT, 
	number INTEGER NOT NULL, 
	CONSTRAINT pk_tool PRIMARY KEY (id), 
	CONSTRAINT ck_tool_number CHECK (number >= 1)
);
CREATE TABLE touched (
	change_id INTEGER NOT NULL, 
	name VARCHAR NOT NULL, 
	number INTEGER NOT NULL, 
	refers BOOLEAN NOT NULL, 
	id INTEGER NOT NULL, made BOOLEAN DEFAULT '0' NOT NULL, 
	CONSTRAINT pk_touched PRIMARY KEY (id), 
	CONSTRAINT fk_touched_change_id_change FOREIGN KEY(change_id) REFERENCES change (id)
);
CREATE TABLE "transfer" (
	at DATETIME NOT NULL, 
	litres FLOAT NOT NULL, 
	source_id INTEGER, 
	target_id INTEGER, 
	how VARCHAR NOT NULL, 
	name VARCHAR NOT NULL, 
	lively VARCHAR NOT NULL, 
	ph FLOAT, 
	id INTEGER NOT NULL, 
	start JSON, 
	stirred BOOLEAN DEFAULT 0 NOT NULL, 
	CONSTRAINT pk_transfer PRIMARY KEY (id), 
	CONSTRAINT ck_transfer_ends CHECK (source_id IS NOT NULL OR target_id IS NOT NULL), 
	CONSTRAINT ck_transfer_litres CHECK (litres >= 0), 
	CONSTRAINT fk_transfer_source_id_liquid FOREIGN KEY(source_id) REFERENCES liquid (id), 
	CONSTRAINT fk_transfer_target_id_liquid FOREIGN KEY(target_id) REFERENCES liquid (id)
);
CREATE TABLE trial (
	brew_id INTEGER NOT NULL, 
	ingredient VARCHAR NOT NULL, 
	at DATETIME NOT NULL, 
	glass_g FLOAT NOT NULL, 
	best_g FLOAT, 
	flavour_id INTEGER, 
	ended_at DATETIME, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_trial PRIMARY KEY (id), 
	CONSTRAINT fk_trial_brew_id_brew FOREIGN KEY(brew_id) REFERENCES brew (id), 
	CONSTRAINT fk_trial_flavour_id_flavour FOREIGN KEY(flavour_id) REFERENCES flavour (id)
);
CREATE TABLE trial_step (
	trial_id INTEGER NOT NULL, 
	taster_id INTEGER, 
	grams FLOAT NOT NULL, 
	score INTEGER NOT NULL, 
	word VARCHAR NOT NULL, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_trial_step PRIMARY KEY (id), 
	CONSTRAINT fk_trial_step_trial_id_trial FOREIGN KEY(trial_id) REFERENCES trial (id), 
	CONSTRAINT fk_trial_step_taster_id_taster FOREIGN KEY(taster_id) REFERENCES taster (id)
);
CREATE TABLE upkeep (
	vessel_id INTEGER NOT NULL, 
	at DATETIME NOT NULL, 
	what VARCHAR NOT NULL, 
	celsius FLOAT, 
	before_mm FLOAT, 
	after_mm FLOAT, 
	note VARCHAR DEFAULT '' NOT NULL, 
	id INTEGER NOT NULL, 
	CONSTRAINT pk_upkeep PRIMARY KEY (id), 
	CONSTRAINT fk_upkeep_vessel_id_vessel FOREIGN KEY(vessel_id) REFERENCES vessel (id)
);
CREATE TABLE "vessel" (
	name VARCHAR NOT NULL, 
	kind VARCHAR NOT NULL, 
	nominal_l FLOAT NOT NULL, 
	usable_l FLOAT NOT NULL, 
	diameter_cm FLOAT NOT NULL, 
	material VARCHAR NOT NULL, 
	tapped BOOLEAN NOT NULL, 
	version INTEGER NOT NULL, 
	id INTEGER NOT NULL, 
	heel_l FLOAT DEFAULT '0' NOT NULL, 
	liquid_id INTEGER, tap_made_of VARCHAR DEFAULT '' NOT NULL, heater_w FLOAT, tare_g FLOAT, 
	CONSTRAINT pk_vessel PRIMARY KEY (id), 
	CONSTRAINT ck_vessel_usable CHECK (usable_l > 0 AND usable_l <= nominal_l), 
	CONSTRAINT uq_vessel_liquid_id UNIQUE (liquid_id), 
	CONSTRAINT fk_vessel_liquid_id_liquid FOREIGN KEY(liquid_id) REFERENCES liquid (id)
);
CREATE TABLE wished (
	id INTEGER NOT NULL, 
	kind VARCHAR NOT NULL, 
	day DATE NOT NULL, 
	until DATE, 
	litres FLOAT NOT NULL, 
	people INTEGER, 
	glasses FLOAT, 
	words VARCHAR NOT NULL, 
	at DATETIME NOT NULL, 
	ended_at DATETIME, 
	CONSTRAINT pk_wished PRIMARY KEY (id)
);
CREATE INDEX ix_addition_liquid_id ON addition (liquid_id);
CREATE INDEX ix_bottle_bottling_id ON bottle (bottling_id);
CREATE INDEX ix_bottle_gone_at ON bottle (gone_at);
CREATE INDEX ix_bottle_state_gone ON bottle (state, gone_at);
CREATE INDEX ix_bottle_type_id ON bottle (type_id);
CREATE INDEX ix_bottling_at ON bottling (at);
CREATE INDEX ix_bottling_brew_id ON bottling (brew_id);
CREATE INDEX ix_bottling_flavour_id ON bottling (flavour_id);
CREATE INDEX ix_bottling_infusion_id ON bottling (infusion_id);
CREATE INDEX ix_brew_culture_pitched ON brew (culture_id, pitched_at);
CREATE INDEX ix_brew_disc_brew_id ON brew_disc (brew_id);
CREATE INDEX ix_brew_disc_disc_id ON brew_disc (disc_id);
CREATE INDEX ix_brew_ended_at ON brew (ended_at);
CREATE INDEX ix_brew_pitched_at ON brew (pitched_at);
CREATE INDEX ix_brew_status ON brew (status);
CREATE INDEX ix_brew_stay_brew_id ON brew_stay (brew_id);
CREATE INDEX ix_brew_stay_vessel_id ON brew_stay (vessel_id);
CREATE INDEX ix_brew_vessel_ended ON brew (vessel_id, ended_at);
CREATE INDEX ix_calibration_instrument_id ON calibration (instrument_id);
CREATE INDEX ix_care_done_what ON care_done (what);
CREATE INDEX ix_change_at ON change (at);
CREATE INDEX ix_change_undone_at ON change (undone_at);
CREATE INDEX ix_conversion_culture_id ON conversion (culture_id);
CREATE INDEX ix_cupboard_count_good ON cupboard_count (kind, "key");
CREATE INDEX ix_device_doubt_device_id ON device_doubt (device_id);
CREATE INDEX ix_device_instrument_id ON device (instrument_id);
CREATE INDEX ix_device_reading_device ON device_reading (device_id, at_s);
CREATE INDEX ix_device_standing_device_id ON device_standing (device_id);
CREATE INDEX ix_device_standing_place_id ON device_standing (place_id);
CREATE INDEX ix_device_standing_vessel ON device_standing (vessel_id, until);
CREATE INDEX ix_disc_event_disc_id ON disc_event (disc_id);
CREATE INDEX ix_flavour_part_flavour_id ON flavour_part (flavour_id);
CREATE INDEX ix_gift_culture_id ON gift (culture_id);
CREATE INDEX ix_hearing_bottle_id ON hearing (bottle_id);
CREATE INDEX ix_hotel_feed_vessel_id ON hotel_feed (vessel_id);
CREATE INDEX ix_hotel_stay_disc_id ON hotel_stay (disc_id);
CREATE INDEX ix_hotel_stay_vessel_id ON hotel_stay (vessel_id);
CREATE INDEX ix_infusion_brew_id ON infusion (brew_id);
CREATE INDEX ix_infusion_ended_at ON infusion (ended_at);
CREATE INDEX ix_infusion_flavour_id ON infusion (flavour_id);
CREATE INDEX ix_infusion_place_id ON infusion (place_id);
CREATE INDEX ix_kept_lesson_key ON kept_lesson ("key");
CREATE INDEX ix_kept_lesson_standing ON kept_lesson (standing);
CREATE INDEX ix_kitchen_day_ended_at ON kitchen_day (ended_at);
CREATE INDEX ix_larder_item_gone_at ON larder_item (gone_at);
CREATE INDEX ix_lesson_revision ON lesson (revision);
CREATE INDEX ix_lesson_stale ON lesson (stale);
CREATE INDEX ix_liquid_ended_at ON liquid (ended_at);
CREATE INDEX ix_list_item_ended_at ON list_item (ended_at);
CREATE INDEX ix_look_liquid_id ON look (liquid_id);
CREATE INDEX ix_note_about ON note (about, about_id);
CREATE INDEX ix_note_photo_sha ON note (photo_sha);
CREATE INDEX ix_overrule_brew_id ON overrule (brew_id);
CREATE INDEX ix_pairing_asked_at ON pairing (asked_at);
CREATE INDEX ix_pairing_code ON pairing (code);
CREATE INDEX ix_photo_liquid_id ON photo (liquid_id);
CREATE INDEX ix_purchase_best_before ON purchase (best_before);
CREATE INDEX ix_purchase_day ON purchase (day);
CREATE INDEX ix_purchase_good ON purchase (kind, "key");
CREATE INDEX ix_put_off_what ON put_off (what);
CREATE INDEX ix_reading_at ON reading (at);
CREATE INDEX ix_reading_liquid_id ON reading (liquid_id);
CREATE INDEX ix_score_at ON score (at);
CREATE INDEX ix_score_bottle_id ON score (bottle_id);
CREATE INDEX ix_score_bottling_id ON score (bottling_id);
CREATE INDEX ix_score_comparison_id ON score (comparison_id);
CREATE INDEX ix_score_taster_id ON score (taster_id);
CREATE INDEX ix_set_point_device_id ON set_point (device_id);
CREATE INDEX ix_spot_reading_place_id ON spot_reading (place_id);
CREATE INDEX ix_standing_bottle_id ON standing (bottle_id);
CREATE INDEX ix_standing_place_id ON standing (place_id);
CREATE INDEX ix_standing_vessel_until ON standing (vessel_id, until);
CREATE INDEX ix_tasting_liquid_id ON tasting (liquid_id);
CREATE INDEX ix_temperature_log_brew_id ON temperature_log (brew_id);
CREATE INDEX ix_temperature_log_device_id ON temperature_log (device_id);
CREATE INDEX ix_temperature_log_last_s ON temperature_log (last_s);
CREATE INDEX ix_temperature_log_place_id ON temperature_log (place_id);
CREATE INDEX ix_timer_day_id ON timer (day_id);
CREATE INDEX ix_touched_change_id ON touched (change_id);
CREATE INDEX ix_touched_row ON touched (name, number, change_id);
CREATE INDEX ix_transfer_at ON transfer (at);
CREATE INDEX ix_transfer_source_id ON transfer (source_id);
CREATE INDEX ix_transfer_target_id ON transfer (target_id);
CREATE INDEX ix_trial_brew_id ON trial (brew_id);
CREATE INDEX ix_trial_flavour_id ON trial (flavour_id);
CREATE INDEX ix_trial_step_taster_id ON trial_step (taster_id);
CREATE INDEX ix_trial_step_trial_id ON trial_step (trial_id);
CREATE INDEX ix_upkeep_vessel_id ON upkeep (vessel_id);
CREATE INDEX ix_wished_until ON wished (until);
