"""Shapes of schedules over HTTP."""

import zoneinfo
from datetime import datetime
from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from darre.common.fields import HoursOfDay, Moment, TypedNumber, optional_text
from darre.equipment.models import Dryer
from darre.inventory.models import Helper, HomeChange, Spool
from darre.schedule.models import PlannedStart, Wish
from drying.dryers import DryerKind
from drying.planning.schedule import Why

WHAT_IFS = ("another", "home", "later", "coils")


class Zone(serializers.CharField):
    """The name of a zone, such as Europe/London."""

    def to_internal_value(self, data: Any) -> str:
        name: str = super().to_internal_value(data)
        if name not in zoneinfo.available_timezones():
            raise serializers.ValidationError(f"“{name}” is no zone that is known here.", code="no_such_zone")
        return name


class WishSerializer(serializers.ModelSerializer[Wish]):
    """A spool that is wanted dry, by when and for what; `due_at`: when next, where it is wanted again and again or to
    be kept clean.
    """

    spool_name = serializers.CharField(source="spool.name")
    due_at = serializers.SerializerMethodField()

    class Meta:
        model = Wish
        fields = [
            "id", "spool", "spool_name", "ready_by", "due_at", "every_days", "keep_clean", "grams", "note",
            "pinned_dryer", "pinned_at",
        ]  # fmt: skip

    @extend_schema_field(serializers.DateTimeField(allow_null=True))
    def get_due_at(self, wish: Wish) -> datetime | None:
        due: datetime | None = self.context.get("due", {}).get(wish.pk, wish.ready_by)
        return due


class NextStartSerializer(serializers.ModelSerializer[PlannedStart]):
    """A start of the schedule that is to come."""

    spool_name = serializers.CharField(source="wish.spool.name")
    dryer_name = serializers.CharField(source="dryer.name")

    class Meta:
        model = PlannedStart
        fields = ["id", "spool_name", "dryer_name", "starts_at"]


class ChangeWishSerializer(serializers.Serializer):
    """When it is wanted and what for."""

    ready_by = Moment(required=False, allow_null=True)
    grams = TypedNumber(unit="g", low=0, high=20000, above_low=True, required=False, allow_null=True)
    note = serializers.CharField(max_length=120, required=False, allow_blank=True)
    every_days = serializers.IntegerField(min_value=1, max_value=366, required=False, allow_null=True)
    keep_clean = serializers.BooleanField(required=False)


class WriteWishSerializer(ChangeWishSerializer):
    """A spool to be wanted dry."""

    spool = serializers.PrimaryKeyRelatedField(queryset=Spool.objects.all())


class SavedWishSerializer(serializers.Serializer):
    """A wish that is stored; `undo` is the history entry that undoes it."""

    wish = WishSerializer(source="record")
    undo = serializers.IntegerField(allow_null=True)


class PinSerializer(serializers.Serializer):
    """A dryer and a time that a run is pinned to; both empty: it goes wherever and whenever is best."""

    dryer = serializers.PrimaryKeyRelatedField(queryset=Dryer.objects.all(), allow_null=True)
    at = Moment(allow_null=True)


class HelperSerializer(serializers.ModelSerializer[Helper]):
    """Somebody else who loads and takes out, with the hours that they are there."""

    weekdays = HoursOfDay()
    weekends = HoursOfDay()

    class Meta:
        model = Helper
        fields = ["id", "name", "weekdays", "weekends"]


class WriteHelperSerializer(serializers.Serializer):
    """Somebody's name and hours."""

    name = serializers.CharField(max_length=60)
    weekdays = HoursOfDay(required=False, default="")
    weekends = HoursOfDay(required=False, default="")


class HomeChangeSerializer(serializers.ModelSerializer[HomeChange]):
    """A stretch that is not as usual."""

    class Meta:
        model = HomeChange
        fields = ["id", "since", "until", "at_home", "note"]


class WriteHomeChangeSerializer(serializers.Serializer):
    """A stretch in which somebody is at home who usually is not, or nobody is."""

    since = Moment()
    until = Moment()
    at_home = serializers.BooleanField()
    note = optional_text(120)


class ZoneSerializer(serializers.Serializer):
    """By whose clock hours at home and prices are meant."""

    zone = Zone(max_length=60)


class WorkedOutSerializer(serializers.Serializer):
    """A schedule was worked out and kept."""

    undo = serializers.IntegerField(allow_null=True)


class WhatIfQuerySerializer(ZoneSerializer):
    """What could be different."""

    kind = serializers.ChoiceField(choices=WHAT_IFS)
    dryer = serializers.IntegerField(required=False, default=None)
    day = Moment(required=False, default=None)


class WhatIfSerializer(serializers.Serializer):
    """A change that may help."""

    kind = serializers.ChoiceField(choices=WHAT_IFS)
    dryer = serializers.IntegerField(allow_null=True)
    day = serializers.DateTimeField(allow_null=True)


class MovedSerializer(serializers.Serializer):
    """A start that is not when it was."""

    spool = serializers.CharField()
    was = serializers.DateTimeField()
    now = serializers.DateTimeField()


class SpanSerializer(serializers.Serializer):
    """From one moment to another."""

    since = serializers.DateTimeField()
    until = serializers.DateTimeField()


class ScheduledStartSerializer(serializers.Serializer):
    """A run of the schedule, or one that goes already (`run`). `temp_c`: air at the spool; `set_c`, or where the dryer
    has levels `set_level`: what to set for it. `course_pct`: moisture at even times from start to end;
    `beside`: the spools that share the dryer meanwhile; `reaches`: whether it comes to its aim.
    """

    wish = serializers.IntegerField(allow_null=True)
    run = serializers.IntegerField(allow_null=True)
    spool = serializers.IntegerField()
    spool_name = serializers.CharField()
    dryer = serializers.IntegerField()
    temp_c = serializers.FloatField()
    hours = serializers.FloatField()
    set_c = serializers.FloatField(allow_null=True)
    set_level = serializers.CharField(allow_blank=True)
    starts_at = serializers.DateTimeField()
    ends_at = serializers.DateTimeField()
    taken_out_at = serializers.DateTimeField(allow_null=True)
    watched_h = serializers.FloatField()
    ready_by = serializers.DateTimeField(allow_null=True)
    late_h = serializers.FloatField()
    pinned = serializers.BooleanField()
    reaches = serializers.BooleanField()
    beside = serializers.ListField(child=serializers.CharField())
    course_pct = serializers.ListField(child=serializers.FloatField())
    trouble_pct = serializers.FloatField(allow_null=True)
    clean_pct = serializers.FloatField(allow_null=True)


class VisitSerializer(serializers.Serializer):
    """A visit: what is loaded, taken out, and whose timers are set again, by spool and dryer name."""

    at = serializers.DateTimeField()
    load = serializers.ListField(child=serializers.CharField())
    take_out = serializers.ListField(child=serializers.CharField())
    timers = serializers.ListField(child=serializers.CharField())


class LateSerializer(serializers.Serializer):
    """Why something is late. `others`: the spools that are in the dryer before it."""

    spool_name = serializers.CharField()
    why = serializers.ChoiceField(choices=[w.value for w in Why])
    late_h = serializers.FloatField()
    hours = serializers.FloatField()
    dryer_name = serializers.CharField()
    ready_by = serializers.DateTimeField(allow_null=True)
    soonest = serializers.DateTimeField(allow_null=True)
    others = serializers.ListField(child=serializers.CharField())


class ScheduledDryerSerializer(serializers.Serializer):
    """A dryer with what the screen says of it."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    kind = serializers.ChoiceField(choices=[k.value for k in DryerKind])
    slots = serializers.IntegerField()
    timer_max_h = serializers.FloatField(allow_null=True)
    min_c = serializers.FloatField()
    max_c = serializers.FloatField()
    never_alone = serializers.BooleanField()


class CameToSerializer(serializers.Serializer):
    """What an answer comes to, by which it is compared with another."""

    jobs_late = serializers.IntegerField()
    hours_late = serializers.FloatField()
    visits = serializers.IntegerField()
    cost = serializers.FloatField()


class SumSerializer(CameToSerializer):
    """All that is told of what an answer comes to, and how near it is to the best."""

    energy_kwh = serializers.FloatField()
    last_end = serializers.DateTimeField(allow_null=True)
    optimal = serializers.BooleanField()
    least_jobs_late = serializers.IntegerField()
    least_hours_late = serializers.FloatField()


class ScheduleSerializer(serializers.Serializer):
    """The coming days: what is wanted, what goes into which dryer when, whose hands it needs, and what is late."""

    now = serializers.DateTimeField()
    start = serializers.DateTimeField()
    solved_at = serializers.DateTimeField(allow_null=True)
    worked_out = serializers.BooleanField()
    stale = serializers.BooleanField()
    currency = serializers.CharField(allow_blank=True)
    wishes = WishSerializer(many=True)
    ready = serializers.ListField(child=serializers.IntegerField())
    nowhere = serializers.ListField(child=serializers.IntegerField())
    dryers = ScheduledDryerSerializer(many=True)
    starts = ScheduledStartSerializer(many=True)
    visits = VisitSerializer(many=True)
    late = LateSerializer(many=True)
    sum = SumSerializer(allow_null=True)
    at_home = SpanSerializer(many=True)
    cheap = SpanSerializer(many=True)
    moved = MovedSerializer(many=True)
    before = CameToSerializer(allow_null=True)
    what_ifs = WhatIfSerializer(many=True)
    helpers = HelperSerializer(many=True)
    changes = HomeChangeSerializer(many=True)
    feed_key = serializers.CharField(allow_null=True)
    feed_url = serializers.CharField(allow_null=True, help_text="for a calendar program, as a phone reaches it")


class ComparedSerializer(serializers.Serializer):
    """Two answers side by side: as things are, and with a change. `home`: when somebody has to be there for that."""

    as_is = SumSerializer()
    changed = SumSerializer()
    home = SpanSerializer(many=True)
