"""Things in the shape of an answer."""

from types import SimpleNamespace
from unittest import TestCase

from rest_framework import serializers

from darre.common.api import shown


class _Part(serializers.Serializer):
    name = serializers.CharField()


class _Whole(serializers.Serializer):
    grams = serializers.FloatField(allow_null=True)
    parts = _Part(many=True)
    first = serializers.SerializerMethodField()

    def get_first(self, whole: SimpleNamespace) -> str:
        return str(whole.parts[0].name)


def whole(grams: float | None, *names: str) -> SimpleNamespace:
    return SimpleNamespace(grams=grams, parts=[SimpleNamespace(name=name) for name in names])


class Shown(TestCase):
    def test_nothing_of_one_answer_is_in_the_next(self):
        """The fields are put together once and filled again and again, inner ones too."""
        for grams, names in ((12.5, ("hub", "flange")), (None, ("rim",)), (0.0, ("hub",))):
            parts = [{"name": name} for name in names]
            self.assertEqual(shown(_Whole, whole(grams, *names)), {"grams": grams, "parts": parts, "first": names[0]})

    def test_many_are_each_in_their_own_shape(self):
        self.assertEqual(shown(_Part, whole(None, "a", "b").parts, many=True), [{"name": "a"}, {"name": "b"}])
        self.assertEqual(shown(_Part, [], many=True), [])
        self.assertEqual(shown(_Part, SimpleNamespace(name="c")), {"name": "c"})
