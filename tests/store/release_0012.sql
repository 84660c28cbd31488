BEGIN TRANSACTION;
CREATE TABLE alembic_version (
	version_num VARCHAR(32) NOT NULL, 
	CONSTRAINT alembic_version_pkc PRIMARY KEY (version_num)
);
INSERT INTO "alembic_version" VALUES('0012');
CREATE TABLE batch (
	id INTEGER NOT NULL, 
	number VARCHAR NOT NULL, 
	blend_id INTEGER NOT NULL, 
	blend_version INTEGER NOT NULL, 
	planned_at DATETIME NOT NULL, 
	made_on DATE NOT NULL, 
	made_by VARCHAR NOT NULL, 
	"plan" JSON NOT NULL, 
	state VARCHAR NOT NULL, 
	holder VARCHAR NOT NULL, 
	held_at DATETIME, 
	CONSTRAINT pk_batch PRIMARY KEY (id), 
	CONSTRAINT fk_batch_blend_id_blend FOREIGN KEY(blend_id) REFERENCES blend (id), 
	CONSTRAINT uq_batch_number UNIQUE (number)
);
INSERT INTO "batch" VALUES(1,'20261120-1',2,1,'2026-11-27 03:58:18.309791','2026-11-20','Bo','{"lines": [{"position": 0, "typed": "60 g olive", "key": "olive", "name": "Olive oil (virgin)", "restricted": false, "target_mg": 56500, "how": "weighed", "drops": 0, "said": "", "picks": [["O-1", 56500]]}, {"position": 1, "typed": "40 g jojoba", "key": "jojoba", "name": "Jojoba oil (liquid wax)", "restricted": false, "target_mg": 37600, "how": "weighed", "drops": 0, "said": "", "picks": []}], "containers": [[2, 50.0]], "density": 0.8930346232179226, "loss": "4.8 g for loss: 4 g on vessel and spout, 0.4 g with every bottle", "step_g": 0.1, "drops_per_ml": 20.0, "order": "carriers, then protection, scent last", "mixing": "Invert ten to twenty times. Shaking beats in air, and air turns oil rancid.", "container_price": null, "unmeasured": []}','closed','',NULL);
CREATE TABLE batch_entry (
	id INTEGER NOT NULL, 
	batch_id INTEGER NOT NULL, 
	seq INTEGER NOT NULL, 
	kind VARCHAR NOT NULL, 
	position INTEGER, 
	ingredient VARCHAR NOT NULL, 
	lot_id INTEGER, 
	mg INTEGER, 
	detail JSON NOT NULL, 
	happened_at DATETIME NOT NULL, 
	entered_by VARCHAR NOT NULL, 
	token VARCHAR NOT NULL, 
	CONSTRAINT pk_batch_entry PRIMARY KEY (id), 
	CONSTRAINT fk_batch_entry_batch_id_batch FOREIGN KEY(batch_id) REFERENCES batch (id), 
	CONSTRAINT fk_batch_entry_lot_id_lot FOREIGN KEY(lot_id) REFERENCES lot (id), 
	CONSTRAINT uq_batch_entry_batch_id UNIQUE (batch_id, seq), 
	CONSTRAINT uq_batch_entry_token UNIQUE (token)
);
INSERT INTO "batch_entry" VALUES(1,1,1,'pour begun',0,'',NULL,NULL,'{"gross_before": null}','2026-11-27 03:58:18.315787','Bo','alomW_WiA1VOIPy3t0bClQ');
INSERT INTO "batch_entry" VALUES(2,1,2,'pour',0,'olive',1,56500,'{"how": "typed", "drops": 0, "step_mg": 100, "gross_before": null, "gross_after": null, "stable": null}','2026-11-27 03:58:18.323480','Bo','20261120-1-1-file');
INSERT INTO "batch_entry" VALUES(3,1,3,'pour begun',1,'',NULL,NULL,'{"gross_before": null}','2026-11-27 03:58:18.331619','Bo','VGq3ToYvxhd64JeNawfCDg');
INSERT INTO "batch_entry" VALUES(4,1,4,'pour',1,'jojoba',NULL,37600,'{"how": "typed", "drops": 0, "step_mg": 100, "gross_before": null, "gross_after": null, "stable": null}','2026-11-27 03:58:18.338141','Bo','20261120-1-3-file');
INSERT INTO "batch_entry" VALUES(5,1,5,'mixed',NULL,'',NULL,NULL,'{"words": "clear"}','2026-11-27 03:58:18.358140','Bo','YcCG3wlxDjZkjXRmMjDBqA');
INSERT INTO "batch_entry" VALUES(6,1,6,'container filled',NULL,'',NULL,44000,'{"number": 1, "size_ml": 50.0}','2026-11-27 03:58:18.362558','Bo','8cKd5sKS8_kjYHIlPUOxgg');
INSERT INTO "batch_entry" VALUES(7,1,7,'container filled',NULL,'',NULL,44500,'{"number": 2, "size_ml": 50.0}','2026-11-27 03:58:18.366489','Bo','c4yDaW_zfPcuIw67us15sg');
INSERT INTO "batch_entry" VALUES(8,1,8,'closed',NULL,'',NULL,NULL,'{"words": "", "months": 9}','2026-11-27 03:58:18.370327','Bo','rcQBj6gFtGg8_GynVEixnw');
CREATE TABLE blend (
	id INTEGER NOT NULL, 
	name VARCHAR NOT NULL, 
	created_at DATETIME NOT NULL, 
	archived_at DATETIME, 
	copied_from INTEGER, 
	CONSTRAINT pk_blend PRIMARY KEY (id), 
	CONSTRAINT fk_blend_copied_from_blend FOREIGN KEY(copied_from) REFERENCES blend (id)
);
INSERT INTO "blend" VALUES(1,'Dune','2026-11-27 03:58:17.801051',NULL,NULL);
INSERT INTO "blend" VALUES(2,'Marram','2026-11-27 03:58:17.857343',NULL,NULL);
INSERT INTO "blend" VALUES(3,'Never made','2026-11-27 03:58:17.859115',NULL,NULL);
CREATE TABLE blend_entry (
	version_id INTEGER NOT NULL, 
	position INTEGER NOT NULL, 
	typed VARCHAR NOT NULL, 
	answers JSON NOT NULL, 
	CONSTRAINT pk_blend_entry PRIMARY KEY (version_id, position), 
	CONSTRAINT fk_blend_entry_version_id_blend_version FOREIGN KEY(version_id) REFERENCES blend_version (id)
);
INSERT INTO "blend_entry" VALUES(1,0,'30 g rosehip','{}');
INSERT INTO "blend_entry" VALUES(1,1,'20 g jojoba','{}');
INSERT INTO "blend_entry" VALUES(2,0,'30 g rosehip','{}');
INSERT INTO "blend_entry" VALUES(2,1,'30 g jojoba','{}');
INSERT INTO "blend_entry" VALUES(3,0,'60 g olive','{}');
INSERT INTO "blend_entry" VALUES(3,1,'40 g jojoba','{}');
INSERT INTO "blend_entry" VALUES(4,0,'60 g olive','{}');
CREATE TABLE blend_version (
	id INTEGER NOT NULL, 
	blend_id INTEGER NOT NULL, 
	number INTEGER NOT NULL, 
	saved_at DATETIME NOT NULL, 
	note VARCHAR NOT NULL, 
	product VARCHAR NOT NULL, 
	container_kind VARCHAR, 
	container_ml DOUBLE, 
	habits JSON NOT NULL, storage JSON, use JSON, wearer_id INTEGER, reasons JSON, 
	CONSTRAINT pk_blend_version PRIMARY KEY (id), 
	CONSTRAINT fk_blend_version_blend_id_blend FOREIGN KEY(blend_id) REFERENCES blend (id), 
	CONSTRAINT uq_blend_version_blend_id UNIQUE (blend_id, number)
);
INSERT INTO "blend_version" VALUES(1,1,1,'2026-11-27 03:58:17.834562','','facial-oil','dropper',60.0,'{"spoons": "us", "ounces": "us", "bare_ounce": "ask", "parts_by": "volume", "drops": "20", "own_drops_per_ml": 20.0, "meanings": [], "keeps_by": "computed", "held": [], "earlier": []}','{"place": "cool cupboard", "celsius": [17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0], "swing": 1.0, "light": "dark", "glass": "amber", "material": "glass", "opened": true, "uses_a_week": 7.0, "ml_a_use": 0.0, "headspace": 0.1}','{"region": "EU", "for_sale": false, "placed_on": null, "night_only": false}',NULL,'{}');
INSERT INTO "blend_version" VALUES(2,1,2,'2026-11-27 03:58:17.855827','more jojoba','facial-oil','dropper',60.0,'{"spoons": "us", "ounces": "us", "bare_ounce": "ask", "parts_by": "volume", "drops": "20", "own_drops_per_ml": 20.0, "meanings": [], "keeps_by": "computed", "held": [], "earlier": []}','{"place": "cool cupboard", "celsius": [17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0], "swing": 1.0, "light": "dark", "glass": "amber", "material": "glass", "opened": true, "uses_a_week": 7.0, "ml_a_use": 0.0, "headspace": 0.1}','{"region": "EU", "for_sale": false, "placed_on": null, "night_only": false}',NULL,'{}');
INSERT INTO "blend_version" VALUES(3,2,1,'2026-11-27 03:58:17.857781','','body-oil',NULL,NULL,'{"spoons": "us", "ounces": "us", "bare_ounce": "ask", "parts_by": "volume", "drops": "20", "own_drops_per_ml": 20.0, "meanings": [], "keeps_by": "computed", "held": [], "earlier": []}','{"place": "cool cupboard", "celsius": [17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0], "swing": 1.0, "light": "dark", "glass": "amber", "material": "glass", "opened": true, "uses_a_week": 7.0, "ml_a_use": 0.0, "headspace": 0.1}','{"region": "EU", "for_sale": false, "placed_on": null, "night_only": false}',NULL,'{}');
INSERT INTO "blend_version" VALUES(4,3,1,'2026-11-27 03:58:17.859521','','body-oil',NULL,NULL,'{"spoons": "us", "ounces": "us", "bare_ounce": "ask", "parts_by": "volume", "drops": "20", "own_drops_per_ml": 20.0, "meanings": [], "keeps_by": "computed", "held": [], "earlier": []}','{"place": "cool cupboard", "celsius": [17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0, 17.0], "swing": 1.0, "light": "dark", "glass": "amber", "material": "glass", "opened": true, "uses_a_week": 7.0, "ml_a_use": 0.0, "headspace": 0.1}','{"region": "EU", "for_sale": false, "placed_on": null, "night_only": false}',NULL,'{}');
CREATE TABLE bottle_event (
	id INTEGER NOT NULL, 
	blend_id INTEGER NOT NULL, 
	happened_on DATE NOT NULL, 
	kind VARCHAR NOT NULL, 
	detail JSON NOT NULL, 
	removed_at DATETIME, 
	CONSTRAINT pk_bottle_event PRIMARY KEY (id), 
	CONSTRAINT fk_bottle_event_blend_id_blend FOREIGN KEY(blend_id) REFERENCES blend (id)
);
INSERT INTO "bottle_event" VALUES(1,1,'2026-08-01','made','{}',NULL);
INSERT INTO "bottle_event" VALUES(2,1,'2026-08-10','opened','{}',NULL);
INSERT INTO "bottle_event" VALUES(3,1,'2026-09-01','moved','{"place": "bathroom"}',NULL);
INSERT INTO "bottle_event" VALUES(4,1,'2026-09-15','titration','{"low": 12.0}',NULL);
INSERT INTO "bottle_event" VALUES(5,1,'2026-10-01','strip','{"low": 5.0, "high": 10.0}',NULL);
INSERT INTO "bottle_event" VALUES(6,1,'2026-10-02','smell','{"off": true}','2026-11-27 03:58:17.879367');
INSERT INTO "bottle_event" VALUES(7,2,'2026-10-05','smell','{"off": false}',NULL);
CREATE TABLE certificate (
	id INTEGER NOT NULL, 
	lot_id INTEGER NOT NULL, 
	entered_at DATETIME NOT NULL, 
	dated_on DATE, 
	typed VARCHAR NOT NULL, 
	found JSON NOT NULL, 
	removed_at DATETIME, 
	CONSTRAINT pk_certificate PRIMARY KEY (id), 
	CONSTRAINT fk_certificate_lot_id_lot FOREIGN KEY(lot_id) REFERENCES lot (id)
);
CREATE TABLE jar (
	id INTEGER NOT NULL, 
	name VARCHAR NOT NULL, 
	begun_on DATE NOT NULL, 
	asked JSON NOT NULL, 
	CONSTRAINT pk_jar PRIMARY KEY (id)
);
CREATE TABLE jar_note (
	id INTEGER NOT NULL, 
	jar_id INTEGER NOT NULL, 
	happened_on DATE NOT NULL, 
	kind VARCHAR NOT NULL, 
	grams DOUBLE, 
	words VARCHAR NOT NULL, 
	removed_at DATETIME, 
	CONSTRAINT pk_jar_note PRIMARY KEY (id), 
	CONSTRAINT fk_jar_note_jar_id_jar FOREIGN KEY(jar_id) REFERENCES jar (id)
);
CREATE TABLE jar_photo (
	id INTEGER NOT NULL, 
	jar_id INTEGER NOT NULL, 
	taken_on DATE NOT NULL, 
	words VARCHAR NOT NULL, 
	content BLOB NOT NULL, 
	removed_at DATETIME, 
	CONSTRAINT pk_jar_photo PRIMARY KEY (id), 
	CONSTRAINT fk_jar_photo_jar_id_jar FOREIGN KEY(jar_id) REFERENCES jar (id)
);
CREATE TABLE jar_reading (
	id INTEGER NOT NULL, 
	jar_id INTEGER NOT NULL, 
	read_at DATETIME NOT NULL, 
	celsius DOUBLE NOT NULL, 
	typed BOOLEAN NOT NULL, 
	removed_at DATETIME, 
	CONSTRAINT pk_jar_reading PRIMARY KEY (id), 
	CONSTRAINT fk_jar_reading_jar_id_jar FOREIGN KEY(jar_id) REFERENCES jar (id)
);
CREATE TABLE "lot" (
	id INTEGER NOT NULL, 
	code VARCHAR NOT NULL, 
	ingredient VARCHAR NOT NULL, 
	supplier VARCHAR NOT NULL, 
	received_on DATE, 
	opened_on DATE, 
	best_before DATE, 
	bought_g DOUBLE NOT NULL, 
	left_g DOUBLE NOT NULL, 
	price DOUBLE, 
	currency VARCHAR NOT NULL, 
	place VARCHAR NOT NULL, 
	supplier_lot VARCHAR DEFAULT '' NOT NULL, 
	container VARCHAR DEFAULT '' NOT NULL, 
	note VARCHAR DEFAULT '' NOT NULL, 
	blend_id INTEGER, 
	blend_version INTEGER, infusion JSON, 
	CONSTRAINT pk_lot PRIMARY KEY (id), 
	CONSTRAINT ck_lot_price CHECK (price IS NULL OR price >= 0), 
	CONSTRAINT uq_lot_code UNIQUE (code), 
	CONSTRAINT ck_lot_left CHECK (left_g >= 0 AND left_g <= bought_g), 
	CONSTRAINT ck_lot_bought CHECK (bought_g > 0), 
	CONSTRAINT fk_lot_blend_id_blend FOREIGN KEY(blend_id) REFERENCES blend (id)
);
INSERT INTO "lot" VALUES(1,'O-1','olive','',NULL,NULL,NULL,500.0,0.0,NULL,'','','','','',NULL,NULL,NULL);
CREATE TABLE movement (
	id INTEGER NOT NULL, 
	lot_id INTEGER NOT NULL, 
	kind VARCHAR NOT NULL, 
	mg INTEGER NOT NULL, 
	happened_on DATE NOT NULL, 
	entered_at DATETIME NOT NULL, 
	entered_by VARCHAR NOT NULL, 
	reason VARCHAR NOT NULL, 
	reverses INTEGER, 
	token VARCHAR NOT NULL, 
	CONSTRAINT pk_movement PRIMARY KEY (id), 
	CONSTRAINT ck_movement_moves CHECK (mg <> 0), 
	CONSTRAINT fk_movement_lot_id_lot FOREIGN KEY(lot_id) REFERENCES lot (id), 
	CONSTRAINT fk_movement_reverses_movement FOREIGN KEY(reverses) REFERENCES movement (id), 
	CONSTRAINT uq_movement_reverses UNIQUE (reverses), 
	CONSTRAINT uq_movement_token UNIQUE (token)
);
INSERT INTO "movement" VALUES(1,1,'receive',500000,'2026-11-27','2026-11-27 03:58:17.891790','','',NULL,'4Y6gkJywTgRQaS0xK2Pamg');
INSERT INTO "movement" VALUES(2,1,'use',-56500,'2026-11-27','2026-11-27 03:58:18.327545','','batch 20261120-1',NULL,'batch-20261120-1-2-O-1-use');
CREATE TABLE own_oil (
	id INTEGER NOT NULL, 
	"key" VARCHAR NOT NULL, 
	entered_at DATETIME NOT NULL, 
	typed VARCHAR NOT NULL, 
	said JSON NOT NULL, 
	CONSTRAINT pk_own_oil PRIMARY KEY (id)
);
CREATE TABLE own_plant (
	id INTEGER NOT NULL, 
	"key" VARCHAR NOT NULL, 
	entered_at DATETIME NOT NULL, 
	said JSON NOT NULL, 
	CONSTRAINT pk_own_plant PRIMARY KEY (id)
);
CREATE TABLE patch_look (
	id INTEGER NOT NULL, 
	test_id INTEGER NOT NULL, 
	step INTEGER NOT NULL, 
	entered_at DATETIME NOT NULL, 
	saw VARCHAR NOT NULL, 
	note VARCHAR NOT NULL, 
	CONSTRAINT pk_patch_look PRIMARY KEY (id), 
	CONSTRAINT fk_patch_look_test_id_patch_test FOREIGN KEY(test_id) REFERENCES patch_test (id) ON DELETE CASCADE
);
CREATE TABLE patch_test (
	id INTEGER NOT NULL, 
	wearer_id INTEGER NOT NULL, 
	blend_id INTEGER NOT NULL, 
	blend_version INTEGER NOT NULL, 
	protocol VARCHAR NOT NULL, 
	site VARCHAR NOT NULL, 
	begun_at DATETIME NOT NULL, 
	note VARCHAR NOT NULL, 
	suspects JSON NOT NULL, 
	ended_at DATETIME, 
	CONSTRAINT pk_patch_test PRIMARY KEY (id), 
	CONSTRAINT fk_patch_test_blend_id_blend FOREIGN KEY(blend_id) REFERENCES blend (id), 
	CONSTRAINT fk_patch_test_wearer_id_wearer FOREIGN KEY(wearer_id) REFERENCES wearer (id) ON DELETE CASCADE
);
CREATE TABLE preference (
	"key" VARCHAR NOT NULL, 
	value JSON NOT NULL, 
	CONSTRAINT pk_preference PRIMARY KEY ("key")
);
INSERT INTO "preference" VALUES('learnt_rates','{"1": 0.31}');
INSERT INTO "preference" VALUES('shelf_revision',2);
CREATE TABLE used_form (
	token VARCHAR NOT NULL, 
	used_at DATETIME NOT NULL, 
	led_to VARCHAR NOT NULL, 
	CONSTRAINT pk_used_form PRIMARY KEY (token)
);
CREATE TABLE wearer (
	id INTEGER NOT NULL PRIMARY KEY AUTOINCREMENT, 
	created_at DATETIME NOT NULL
);
CREATE TABLE wearer_card (
	id INTEGER NOT NULL, 
	wearer_id INTEGER NOT NULL, 
	entered_at DATETIME NOT NULL, 
	said JSON NOT NULL, 
	CONSTRAINT pk_wearer_card PRIMARY KEY (id), 
	CONSTRAINT fk_wearer_card_wearer_id_wearer FOREIGN KEY(wearer_id) REFERENCES wearer (id) ON DELETE CASCADE
);
CREATE INDEX ix_blend_version_blend_id ON blend_version (blend_id);
CREATE INDEX ix_bottle_event_blend_id ON bottle_event (blend_id);
CREATE INDEX ix_lot_ingredient ON lot (ingredient);
CREATE INDEX ix_own_oil_key ON own_oil ("key");
CREATE INDEX ix_certificate_lot_id ON certificate (lot_id);
CREATE INDEX ix_patch_test_blend_id ON patch_test (blend_id);
CREATE INDEX ix_patch_test_wearer_id ON patch_test (wearer_id);
CREATE INDEX ix_wearer_card_wearer_id ON wearer_card (wearer_id);
CREATE INDEX ix_patch_look_test_id ON patch_look (test_id);
CREATE INDEX ix_jar_note_jar_id ON jar_note (jar_id);
CREATE INDEX ix_jar_reading_jar_id ON jar_reading (jar_id);
CREATE INDEX ix_jar_photo_jar_id ON jar_photo (jar_id);
CREATE INDEX ix_own_plant_key ON own_plant ("key");
CREATE INDEX ix_movement_lot_mg ON movement (lot_id, mg);
CREATE TRIGGER movement_no_update BEFORE UPDATE ON movement BEGIN SELECT RAISE(ABORT, 'the ledger is only added to'); END;
CREATE TRIGGER movement_no_delete BEFORE DELETE ON movement BEGIN SELECT RAISE(ABORT, 'the ledger is only added to'); END;
CREATE INDEX ix_batch_blend_id ON batch (blend_id);
CREATE INDEX ix_batch_entry_lot_id ON batch_entry (lot_id);
CREATE TRIGGER batch_entry_no_update BEFORE UPDATE ON batch_entry BEGIN SELECT RAISE(ABORT, 'what happened to a batch is only added to'); END;
CREATE TRIGGER batch_entry_no_delete BEFORE DELETE ON batch_entry BEGIN SELECT RAISE(ABORT, 'what happened to a batch is only added to'); END;
DELETE FROM "sqlite_sequence";
COMMIT;
