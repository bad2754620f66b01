"""Shapes of the evidence table and of practice over HTTP."""

from rest_framework import serializers

from darre.common.fields import TypedNumber
from darre.diagnosis.api.serializers import CAUSES, CHECKS, SIGNS, CauseChanceSerializer
from drying.diagnosis import LEAST, MOST


class TableSignSerializer(serializers.Serializer):
    """A row of the evidence table; `own`: causes whose number is the person's own, `built_in`: to go back to."""

    id = serializers.ChoiceField(choices=SIGNS)
    p = CauseChanceSerializer(many=True)
    built_in = CauseChanceSerializer(many=True)
    own = serializers.ListField(child=serializers.CharField())
    like = serializers.CharField()
    why = serializers.CharField()
    material_why = serializers.CharField()


class TableSerializer(serializers.Serializer):
    """The evidence table for a material."""

    source = serializers.CharField()  # type: ignore[assignment]  # the answer's own key
    base_rates = CauseChanceSerializer(many=True)
    built_in_rates = CauseChanceSerializer(many=True)
    own_rates = serializers.ListField(child=serializers.CharField())
    signs = TableSignSerializer(many=True)


class WriteChanceSerializer(serializers.Serializer):
    """An own chance of a sign under a cause, or (no sign) a base rate; null: back to the built-in."""

    sign = serializers.ChoiceField(choices=SIGNS, required=False, allow_blank=True, default="")
    cause = serializers.ChoiceField(choices=CAUSES)
    p_pct = TypedNumber(unit="%", low=100 * LEAST, high=100 * MOST, allow_null=True)


class TenthSerializer(serializers.Serializer):
    """Stated chances between two bounds, and how often it was so."""

    low = serializers.FloatField()
    high = serializers.FloatField()
    count = serializers.IntegerField()
    stated = serializers.FloatField()
    happened = serializers.FloatField()
    happened_low = serializers.FloatField()
    happened_high = serializers.FloatField()


class PracticeSumSerializer(serializers.Serializer):
    """All ended rounds."""

    rounds = serializers.IntegerField()
    brier_you = serializers.FloatField(allow_null=True)
    brier_table = serializers.FloatField(allow_null=True)
    tenths = TenthSerializer(many=True)


class PracticeCheckSerializer(serializers.Serializer):
    """A check that can be afforded."""

    id = serializers.ChoiceField(choices=CHECKS)
    minutes = serializers.FloatField()
    signs = serializers.ListField(child=serializers.CharField())


class ShownSignSerializer(serializers.Serializer):
    """What a check has shown."""

    sign = serializers.CharField()
    seen = serializers.BooleanField()


class PracticeTruthSerializer(serializers.Serializer):
    """What an ended round tells."""

    cause = serializers.ChoiceField(choices=CAUSES)
    was_water = serializers.BooleanField()
    stated = serializers.FloatField()
    table_said = serializers.FloatField()


class PracticeRoundSerializer(serializers.Serializer):
    """A round as the person may see it."""

    id = serializers.IntegerField(source="round.id")
    material = serializers.CharField(source="case.material")
    moisture_pct = serializers.FloatField(source="case.begin.moisture.value")
    plus_minus_pct = serializers.FloatField(source="case.begin.moisture.plus_minus")
    moisture_assumed = serializers.BooleanField(source="case.begin.assumed")
    trouble_pct = serializers.FloatField(allow_null=True)
    budget_min = serializers.FloatField(source="round.budget_min")
    left_min = serializers.FloatField()
    shown = ShownSignSerializer(many=True)
    checks_left = PracticeCheckSerializer(many=True)
    truth = PracticeTruthSerializer(allow_null=True)


class PracticeSerializer(serializers.Serializer):
    """The round that is open, and all ended ones."""

    open = PracticeRoundSerializer(allow_null=True)
    sum = PracticeSumSerializer()
    budgets_min = serializers.ListField(child=serializers.FloatField())


class BeginPracticeSerializer(serializers.Serializer):
    """How many minutes a round may take."""

    budget_min = serializers.FloatField()


class DoCheckSerializer(serializers.Serializer):
    """A check to do."""

    check = serializers.ChoiceField(choices=CHECKS)


class AnswerPracticeSerializer(serializers.Serializer):
    """One's own chance that it was the water, %."""

    chance_pct = TypedNumber(unit="%", low=0, high=100)
