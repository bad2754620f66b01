"""What was started together in a dryer becomes one record: runs that were in it at the same time are one batch."""

from datetime import UTC, datetime

import django.db.models.deletion
from django.db import migrations, models

FACTS = (
    "kind", "min_c", "max_c", "display_offset_c", "levels", "hot_side_excess_c", "timer_max_h", "timer_choices_h",
    "slots", "max_diameter_mm", "max_width_mm", "vent_m3_h", "fan", "swing_c", "warm_up_h", "heater_w", "metered_kwh",
    "metered_h", "metered_air_c",
)  # fmt: skip
EVER = datetime.max.replace(tzinfo=UTC)


def _batch(apps, run):
    pairs = apps.get_model("equipment", "ProbePair").objects.filter(dryer_id=run.dryer_id).order_by("set_c", "id")
    return apps.get_model("runs", "Batch").objects.create(
        dryer_id=run.dryer_id,
        method=run.method,
        temp_c=run.temp_c,
        override_reason=run.override_reason,
        started_at=run.started_at,
        room_temp_c=run.room_temp_c,
        room_rh_pct=run.room_rh_pct,
        dryer_then={
            **{name: getattr(run.dryer, name) for name in FACTS},
            "probes": [[p.set_c, p.air_c, p.room_c] for p in pairs],
        },
        energy_start_kwh=run.energy_start_kwh,
        energy_end_kwh=run.energy_end_kwh,
    )


def gather(apps, schema_editor):
    last = {}
    for run in apps.get_model("runs", "Run").objects.select_related("dryer").order_by("started_at", "id"):
        batch, until, temp_c = last.get(run.dryer_id, (None, None, None))
        if batch is None or run.started_at >= until or run.temp_c != temp_c:
            batch, until = _batch(apps, run), run.started_at
        last[run.dryer_id] = (batch, max(until, run.ended_at or EVER), run.temp_c)
        run.batch = batch
        first = run.weighings.filter(weighed_object="spool").order_by("at", "id").first()
        run.net_g = first.gross_g - first.tare_g if first else None
        run.save(update_fields=["batch", "net_g"])
        run.events.update(batch=batch)


class Migration(migrations.Migration):
    dependencies = [("runs", "0001_initial")]

    operations = [
        migrations.CreateModel(
            name="Batch",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("method", models.CharField(blank=True, max_length=20)),
                ("temp_c", models.FloatField()),
                ("override_reason", models.CharField(blank=True, max_length=200)),
                ("started_at", models.DateTimeField()),
                ("room_temp_c", models.FloatField()),
                ("room_rh_pct", models.FloatField()),
                ("dryer_then", models.JSONField()),
                ("ticket", models.JSONField(default=dict)),
                ("energy_start_kwh", models.FloatField(blank=True, null=True)),
                ("energy_end_kwh", models.FloatField(blank=True, null=True)),
                (
                    "dryer",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="batches", to="equipment.dryer"
                    ),
                ),
            ],
            options={"ordering": ["-started_at", "-id"]},
        ),
        migrations.AddField(
            "run",
            "batch",
            models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.PROTECT, related_name="runs", to="runs.batch"
            ),
        ),
        migrations.AddField("run", "net_g", models.FloatField(blank=True, null=True)),
        migrations.AddField("run", "forecast", models.JSONField(default=dict)),
        migrations.AddField("weighing", "doubtful", models.BooleanField(default=False)),
        migrations.AddField(
            "runevent",
            "batch",
            models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.PROTECT, related_name="events", to="runs.batch"
            ),
        ),
        migrations.AddField("runevent", "temp_c", models.FloatField(blank=True, null=True)),
        migrations.AddField("runevent", "duration_h", models.FloatField(blank=True, null=True)),
        migrations.RunPython(gather, elidable=False),
        migrations.RemoveField("run", "dryer"),
        migrations.RemoveField("run", "method"),
        migrations.RemoveField("run", "temp_c"),
        migrations.RemoveField("run", "override_reason"),
        migrations.RemoveField("run", "room_temp_c"),
        migrations.RemoveField("run", "room_rh_pct"),
        migrations.RemoveField("run", "energy_start_kwh"),
        migrations.RemoveField("run", "energy_end_kwh"),
        migrations.RemoveField("runevent", "run"),
        migrations.AlterField(
            "run",
            "batch",
            models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name="runs", to="runs.batch"),
        ),
        migrations.AlterField(
            "runevent",
            "batch",
            models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name="events", to="runs.batch"),
        ),
        migrations.AlterField("run", "client_key", models.UUIDField()),
        migrations.AddConstraint(
            "run", models.UniqueConstraint(fields=("client_key", "spool"), name="one_run_of_a_start")
        ),
        migrations.AlterField(
            "runevent",
            "kind",
            models.CharField(
                choices=[
                    ("lid", "Lid"),
                    ("turned", "Turned"),
                    ("timer", "Timer"),
                    ("desiccant", "Desiccant"),
                    ("sensor", "Sensor"),
                    ("paused", "Paused"),
                    ("resumed", "Resumed"),
                    ("power_cut", "Power Cut"),
                    ("changed", "Changed"),
                    ("other", "Other"),
                ],
                max_length=12,
            ),
        ),
    ]
