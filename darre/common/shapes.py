"""Shapes that many answers share."""

from rest_framework import serializers


class QuantitySerializer(serializers.Serializer):
    """A value with its standard uncertainty, and with what stands after the ±."""

    value = serializers.FloatField()
    uncertainty = serializers.FloatField()
    plus_minus = serializers.FloatField()


class UndoSerializer(serializers.Serializer):
    """Done; `undo` is the history entry that undoes it."""

    undo = serializers.IntegerField(allow_null=True)


class StartsAgainSerializer(serializers.Serializer):
    """`starts_again`: the server begins anew by itself now, and it is so then; else it is to be started by hand."""

    starts_again = serializers.BooleanField()
