"""Shapes of prints and their files over HTTP."""

from rest_framework import serializers

from darre.common.fields import Moment, TypedNumber, optional_text
from darre.common.shapes import QuantitySerializer
from darre.diagnosis.models import Print, PrintFile
from darre.inventory.models import Spool


class PrintFileSummarySerializer(serializers.Serializer):
    """What a print file commands; null where it does not say."""

    extruded_mm = serializers.FloatField()
    least_h = serializers.FloatField()
    nozzle_c = serializers.FloatField(allow_null=True)
    bed_c = serializers.FloatField(allow_null=True)
    fan_pct = serializers.FloatField(allow_null=True)
    layer_mm = serializers.FloatField(allow_null=True)
    first_layer_mm = serializers.FloatField(allow_null=True)
    layers = serializers.IntegerField()
    height_mm = serializers.FloatField()
    retraction_mm = serializers.FloatField(allow_null=True)
    retraction_mm_s = serializers.FloatField(allow_null=True)
    retractions = serializers.IntegerField()
    speed_mm_s = serializers.FloatField(allow_null=True)
    tools = serializers.IntegerField()


class PrintFileSerializer(serializers.ModelSerializer[PrintFile]):
    """A print file as it was read."""

    summary = PrintFileSummarySerializer()

    class Meta:
        model = PrintFile
        fields = ["id", "name", "size", "sha256", "read_at", "summary"]


class TakesSerializer(serializers.Serializer):
    """How much of a spool a print takes; `left_g`: what is on it, null where it was never weighed."""

    spool = serializers.IntegerField(source="spool.pk")
    mass_g = QuantitySerializer()
    left_g = serializers.FloatField(allow_null=True)
    enough = serializers.BooleanField()


class ReadFileSerializer(serializers.Serializer):
    """A file just read; `known`: the same bytes were read before."""

    file = PrintFileSerializer()
    known = serializers.BooleanField()


class PrintSerializer(serializers.ModelSerializer[Print]):
    """A print; `mass_g` what it took off the spool, null where nobody knows."""

    file = PrintFileSerializer(allow_null=True)
    spool_name = serializers.CharField(source="spool.name")
    mass_g = serializers.FloatField(source="use.mass_g", allow_null=True, default=None)
    mass_sd_g = serializers.FloatField(source="use.sd_g", allow_null=True, default=None)

    class Meta:
        model = Print
        fields = ["id", "spool", "spool_name", "at", "name", "file", "mass_g", "mass_sd_g", "compensated", "note"]


class WritePrintSerializer(serializers.Serializer):
    """A print to note. Its mass comes from its file unless it is typed."""

    spool = serializers.PrimaryKeyRelatedField(queryset=Spool.objects.all())
    name = serializers.CharField(max_length=120)
    at = Moment(required=False)
    file = serializers.PrimaryKeyRelatedField(
        queryset=PrintFile.objects.all(), required=False, allow_null=True, default=None
    )
    mass_g = TypedNumber(unit="g", low=0, high=20000, above_low=True, required=False, allow_null=True, default=None)
    compensated = optional_text(200)
    note = optional_text(200)


class SavedPrintSerializer(serializers.Serializer):
    """A print that is stored; `undo` is the history entry that undoes it."""

    print = PrintSerializer()
    undo = serializers.IntegerField(allow_null=True)
