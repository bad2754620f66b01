"""Shapes of the workshop over HTTP."""

from typing import Any

from rest_framework import serializers

from darre.common.fields import HoursOfDay, ScientificNumber, TypedNumber
from darre.inventory.material_book import Entry
from darre.inventory.models import Preferences
from darre.inventory.selectors import workshop_key
from drying.materials import BOUNDS, PROGRAMME_NAMES


class PropertySerializer(serializers.Serializer):
    """A value of a material with where it comes from and how sure it is."""

    value = serializers.FloatField()
    unit = serializers.CharField()
    spread = serializers.FloatField()
    spread_kind = serializers.CharField()
    source = serializers.CharField()  # type: ignore[assignment]  # the answer's own key
    conditions = serializers.CharField()


class ProgrammeSerializer(serializers.Serializer):
    """What one method sets."""

    temp_c = serializers.FloatField()
    duration_h = serializers.FloatField()


class MaterialValueSerializer(serializers.Serializer):
    """A property as it counts now, and the built-in one where an own value lies over it."""

    name = serializers.ChoiceField(choices=list(BOUNDS))
    now = PropertySerializer(allow_null=True)
    built_in = PropertySerializer(allow_null=True)
    own = serializers.BooleanField()


class MaterialProgrammeSerializer(serializers.Serializer):
    """What a method sets now, and what is built in where an own run lies over it."""

    name = serializers.ChoiceField(choices=PROGRAMME_NAMES)
    now = ProgrammeSerializer(allow_null=True)
    built_in = ProgrammeSerializer(allow_null=True)
    own = serializers.BooleanField()


class MaterialSerializer(serializers.Serializer):
    """A material with every value's source, conditions and spread, own values beside the built-in row. `mixed_in`: the
    id of what is mixed into the polymer that its own id begins with, null where nothing is.
    """

    id = serializers.CharField()
    name = serializers.CharField()
    short = serializers.CharField()
    own = serializers.BooleanField()
    mixed_in = serializers.CharField(allow_null=True)
    values = MaterialValueSerializer(many=True)
    programmes = MaterialProgrammeSerializer(many=True)
    notes = serializers.ListField(child=serializers.CharField())


class MixedInSerializer(serializers.Serializer):
    """What can be mixed into a polymer; `suffix`: what the polymer's id ends with then."""

    id = serializers.CharField()
    name = serializers.CharField()
    suffix = serializers.CharField()


def material_shape(entry: Entry) -> dict[str, Any]:
    """A material of the book as the screen shows it."""
    now, base = entry.now, entry.base
    values = [(name, getattr(now, name), getattr(base, name)) for name in BOUNDS]
    programmes = [(name, now.programmes.get(name), base.programmes.get(name)) for name in PROGRAMME_NAMES]

    def rows(pairs: list[tuple[str, Any, Any]]) -> list[dict[str, Any]]:
        return [{"name": n, "now": here, "built_in": built, "own": here is not built} for n, here, built in pairs]

    return {
        "id": now.id,
        "name": now.name,
        "short": now.short,
        "own": entry.own,
        "mixed_in": entry.mixed_in,
        "values": rows(values),
        "programmes": rows(programmes),
        "notes": now.notes,
    }


class WriteValueSerializer(serializers.Serializer):
    """An own value as it is typed; without a spread the built-in one stays."""

    value = ScientificNumber(unit="", low=-1e6, high=1e6)
    spread = ScientificNumber(unit="", low=0, high=1e6, required=False, allow_null=True, default=None)
    note = serializers.CharField(max_length=120, required=False, allow_blank=True, default="")


class WriteProgrammeSerializer(serializers.Serializer):
    """An own temperature and hours as they are typed."""

    temp_c = TypedNumber(unit="°C", low=20, high=200)
    duration_h = TypedNumber(unit="h", low=0.25, high=400)


class NewMaterialSerializer(serializers.Serializer):
    """A material to begin from a built-in one."""

    name = serializers.CharField(max_length=60)
    short = serializers.CharField(max_length=30, required=False, allow_blank=True, default="")
    base = serializers.CharField(max_length=40)


class SavedMaterialSerializer(serializers.Serializer):
    """A material as it stands now; `undo` is the history entry that undoes it."""

    material = MaterialSerializer()
    undo = serializers.IntegerField(allow_null=True)


class SheetSerializer(serializers.Serializer):
    """What the maker's data sheet of a spool asks for."""

    temp_c = TypedNumber(unit="°C", low=20, high=200)
    duration_h = TypedNumber(unit="h", low=0.25, high=400)
    only_if_opened = serializers.BooleanField(required=False, default=False)


class PreferencesSerializer(serializers.ModelSerializer[Preferences]):
    """Units, clock, currency and tariff, and when somebody is at home and awake. Minutes are minutes of the day."""

    day_rate = TypedNumber(unit="per kWh", low=0, high=100000, required=False, allow_null=True)
    night_rate = TypedNumber(unit="per kWh", low=0, high=100000, required=False, allow_null=True)
    night_from_min = serializers.IntegerField(min_value=0, max_value=1439, required=False)
    night_to_min = serializers.IntegerField(min_value=0, max_value=1439, required=False)
    temp_unit = serializers.ChoiceField(choices=Preferences.Temp.choices, required=False)
    mass_unit = serializers.ChoiceField(choices=Preferences.Mass.choices, required=False)
    length_unit = serializers.ChoiceField(choices=Preferences.Length.choices, required=False)
    clock = serializers.ChoiceField(choices=Preferences.Clock.choices, required=False)
    years_back = serializers.IntegerField(min_value=1, max_value=60, required=False)
    thin_after_days = serializers.IntegerField(min_value=0, max_value=3650, required=False)
    workshop = serializers.SerializerMethodField()
    home_weekdays = HoursOfDay(required=False)
    home_weekends = HoursOfDay(required=False)
    watch_first_h = TypedNumber(unit="h", low=0, high=24, required=False)

    class Meta:
        model = Preferences
        fields = [
            "temp_unit", "mass_unit", "length_unit", "clock", "currency", "day_rate", "night_rate", "night_from_min",
            "night_to_min", "home_weekdays", "home_weekends", "watch_first_h", "years_back", "thin_after_days",
            "workshop",
        ]  # fmt: skip

    def get_workshop(self, mine: Preferences) -> str:
        """Which workshop this is; an act may say so in its header, and is then refused in another one."""
        return workshop_key()


class SavedPreferencesSerializer(serializers.Serializer):
    """The preferences as they stand now; `undo` is the history entry that undoes it."""

    preferences = PreferencesSerializer()
    undo = serializers.IntegerField(allow_null=True)
