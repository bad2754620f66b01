"""The workshop over HTTP. Reads go to selectors, writes to actions."""

from typing import Any

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, given, shown
from darre.common.saved import Saved
from darre.common.shapes import UndoSerializer
from darre.inventory.actions import materials
from darre.inventory.actions.preferences import set_preferences
from darre.inventory.actions.spools import set_sheet
from darre.inventory.api.serializers import (
    MaterialSerializer,
    MixedInSerializer,
    NewMaterialSerializer,
    PreferencesSerializer,
    SavedMaterialSerializer,
    SavedPreferencesSerializer,
    SheetSerializer,
    WriteProgrammeSerializer,
    WriteValueSerializer,
    material_shape,
)
from darre.inventory.material_book import material_book
from darre.inventory.models import Spool
from darre.inventory.selectors import preferences
from drying.dryers import MakersSheet
from drying.materials import all_mixed_in


def _kept(material_id: str, saved: Saved[Any], status: int = 200) -> Response:
    shape = material_shape(material_book().entries[material_id])
    return Response(shown(SavedMaterialSerializer, {"material": shape, "undo": saved.undo}), status=status)


class MaterialListView(APIView):
    """Every material, with the source and spread of each value; begin one of your own."""

    @extend_schema(responses=MaterialSerializer(many=True), operation_id="materials_list")
    def get(self, request: Request) -> Response:
        shapes = [material_shape(entry) for entry in material_book().entries.values()]
        return Response(shown(MaterialSerializer, shapes, many=True))

    @extend_schema(
        request=NewMaterialSerializer, responses={201: SavedMaterialSerializer, **REFUSALS}, operation_id="add_material"
    )
    def post(self, request: Request) -> Response:
        saved = materials.add_material(**given(NewMaterialSerializer, request))
        return _kept(saved.record, saved, 201)


class MixedInListView(APIView):
    """What can be mixed into a polymer: silky, matte, wood, fibre."""

    @extend_schema(responses=MixedInSerializer(many=True), operation_id="mixed_in_list")
    def get(self, request: Request) -> Response:
        return Response(shown(MixedInSerializer, list(all_mixed_in().values()), many=True))


class MaterialView(APIView):
    """Remove a material of one's own."""

    @extend_schema(responses={200: UndoSerializer, **REFUSALS}, operation_id="remove_material")
    def delete(self, request: Request, material_id: str) -> Response:
        return Response({"undo": materials.remove_material(material_id).undo})


class MaterialValueView(APIView):
    """An own value of a property: put it over the built-in one, or go back."""

    @extend_schema(
        request=WriteValueSerializer, responses={200: SavedMaterialSerializer, **REFUSALS}, operation_id="set_value"
    )
    def put(self, request: Request, material_id: str, name: str) -> Response:
        return _kept(material_id, materials.set_own_value(material_id, name, **given(WriteValueSerializer, request)))

    @extend_schema(responses={200: SavedMaterialSerializer, **REFUSALS}, operation_id="drop_value")
    def delete(self, request: Request, material_id: str, name: str) -> Response:
        material_book()[material_id]  # an unknown one is refused by name
        return _kept(material_id, materials.drop_own_value(material_id, name))


class MaterialProgrammeView(APIView):
    """An own temperature and hours for a method, or a programme of one's own; or go back."""

    @extend_schema(
        request=WriteProgrammeSerializer,
        responses={200: SavedMaterialSerializer, **REFUSALS},
        operation_id="set_programme",
    )
    def put(self, request: Request, material_id: str, name: str) -> Response:
        return _kept(
            material_id, materials.set_own_programme(material_id, name, **given(WriteProgrammeSerializer, request))
        )

    @extend_schema(responses={200: SavedMaterialSerializer, **REFUSALS}, operation_id="drop_programme")
    def delete(self, request: Request, material_id: str, name: str) -> Response:
        material_book()[material_id]  # an unknown one is refused by name
        return _kept(material_id, materials.drop_own_programme(material_id, name))


class SheetView(APIView):
    """What the maker's data sheet of a spool asks for: note it, or forget it."""

    @extend_schema(request=SheetSerializer, responses={200: UndoSerializer, **REFUSALS}, operation_id="set_sheet")
    def put(self, request: Request, spool_id: int) -> Response:
        spool = get_object_or_404(Spool, pk=spool_id)
        return Response({"undo": set_sheet(spool, MakersSheet(**given(SheetSerializer, request))).undo})

    @extend_schema(responses={200: UndoSerializer, **REFUSALS}, operation_id="drop_sheet")
    def delete(self, request: Request, spool_id: int) -> Response:
        return Response({"undo": set_sheet(get_object_or_404(Spool, pk=spool_id), None).undo})


class PreferencesView(APIView):
    """Units, clock, currency and tariff."""

    @extend_schema(responses=PreferencesSerializer, operation_id="preferences")
    def get(self, request: Request) -> Response:
        return Response(shown(PreferencesSerializer, preferences()))

    @extend_schema(
        request=PreferencesSerializer,
        responses={200: SavedPreferencesSerializer, **REFUSALS},
        operation_id="set_preferences",
    )
    def put(self, request: Request) -> Response:
        given = PreferencesSerializer(data=request.data, partial=True)
        given.is_valid(raise_exception=True)
        saved = set_preferences(**given.validated_data)
        return Response(shown(SavedPreferencesSerializer, {"preferences": preferences(), "undo": saved.undo}))
