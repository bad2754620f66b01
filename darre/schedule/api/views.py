"""Schedules over HTTP."""

from datetime import datetime
from typing import Any
from urllib.parse import urljoin

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, ErrorSerializer, given, given_query, shown
from darre.common.shapes import UndoSerializer
from darre.inventory.actions import people
from darre.inventory.models import Helper, HomeChange
from darre.network.server import base_address
from darre.schedule.actions import wishes
from darre.schedule.actions.work_out import work_out
from darre.schedule.answers import WhatIf, next_starts, schedule, what_if
from darre.schedule.api import serializers as shapes
from darre.schedule.api.shapes import schedule_shape, span, sum_shape
from darre.schedule.apps import schedule_caches
from darre.schedule.calendar_file import calendar_of
from darre.schedule.models import Answer, Wish

ZONE = OpenApiParameter("zone", str, required=True, description="by whose clock, such as Europe/London")
NOT_FOUND = {404: ErrorSerializer}


class ScheduleView(APIView):
    """The coming days, and working them out."""

    @extend_schema(
        parameters=[ZONE], responses={200: shapes.ScheduleSerializer, 400: ErrorSerializer}, operation_id="schedule"
    )
    def get(self, request: Request) -> Response:
        zone = given_query(shapes.ZoneSerializer, request)["zone"]
        found = schedule(timezone.now(), zone)
        shape = schedule_shape(found)
        feed_url = None
        if shape["feed_key"]:
            base = base_address(request.build_absolute_uri("/"))
            feed_url = urljoin(base, f"api/schedule/calendar/{shape['feed_key']}.ics")
        told = shapes.ScheduleSerializer({**shape, "feed_url": feed_url}, context={"due": found.scene.due})
        return Response(told.data)

    @extend_schema(
        request=shapes.ZoneSerializer,
        responses={200: shapes.WorkedOutSerializer, **REFUSALS},
        operation_id="work_out_schedule",
    )
    def post(self, request: Request) -> Response:
        return Response({"undo": work_out(given(shapes.ZoneSerializer, request)["zone"]).undo})


class NextStartsView(APIView):
    """What is to be loaded in the next day, as the last schedule says; what runs already aside."""

    @extend_schema(responses=shapes.NextStartSerializer(many=True), operation_id="next_starts")
    def get(self, request: Request) -> Response:
        return Response(shown(shapes.NextStartSerializer, next_starts(timezone.now()), many=True))


class StopView(APIView):
    """Have the schedule that is being worked out come to nothing: the last one stays."""

    @extend_schema(request=None, responses={204: None}, operation_id="stop_schedule")
    def post(self, request: Request) -> Response:
        schedule_caches().stops.stop()
        return Response(status=204)


class WhatIfView(APIView):
    """What another answer would come to."""

    @extend_schema(
        parameters=[
            ZONE,
            OpenApiParameter("kind", str, enum=list(shapes.WHAT_IFS), required=True),
            OpenApiParameter("dryer", int, description="of which there would be two"),
            OpenApiParameter("day", datetime, description="on which somebody would be at home"),
        ],
        responses={200: shapes.ComparedSerializer, **REFUSALS},
        operation_id="schedule_what_if",
    )
    def get(self, request: Request) -> Response:
        asked = given_query(shapes.WhatIfQuerySerializer, request)
        change = WhatIf(asked["kind"], asked["dryer"], asked["day"])
        found = what_if(timezone.now(), asked["zone"], change)
        home = [span(found.as_is.scene.moment, begin, end) for begin, end in found.home]
        return Response({"as_is": sum_shape(found.as_is), "changed": sum_shape(found.changed), "home": home})


class WishesView(APIView):
    """Want a spool dry."""

    @extend_schema(
        request=shapes.WriteWishSerializer,
        responses={201: shapes.SavedWishSerializer, **REFUSALS},
        operation_id="add_wish",
    )
    def post(self, request: Request) -> Response:
        saved = wishes.add_wish(**given(shapes.WriteWishSerializer, request))
        return Response(shown(shapes.SavedWishSerializer, saved), status=201)


class WishView(APIView):
    """One wish."""

    @extend_schema(
        request=shapes.ChangeWishSerializer, responses={200: UndoSerializer, **REFUSALS}, operation_id="change_wish"
    )
    def patch(self, request: Request, wish_id: int) -> Response:
        return _done(wishes.change_wish(_wish(wish_id), **given(shapes.ChangeWishSerializer, request)))

    @extend_schema(responses={200: UndoSerializer, **REFUSALS}, operation_id="remove_wish")
    def delete(self, request: Request, wish_id: int) -> Response:
        return _done(wishes.remove_wish(_wish(wish_id)))


class PinView(APIView):
    """Where and when a run is to be, whatever else moves."""

    @extend_schema(request=shapes.PinSerializer, responses={200: UndoSerializer, **REFUSALS}, operation_id="pin_wish")
    def put(self, request: Request, wish_id: int) -> Response:
        data = given(shapes.PinSerializer, request)
        return _done(wishes.pin_wish(_wish(wish_id), data["dryer"], data["at"]))


class HelpersView(APIView):
    """Somebody else who loads and takes out."""

    @extend_schema(
        request=shapes.WriteHelperSerializer, responses={201: UndoSerializer, **REFUSALS}, operation_id="add_helper"
    )
    def post(self, request: Request) -> Response:
        saved = people.add_helper(**given(shapes.WriteHelperSerializer, request))
        return Response({"undo": saved.undo}, status=201)


class HelperView(APIView):
    """One of them."""

    @extend_schema(
        request=shapes.WriteHelperSerializer, responses={200: UndoSerializer, **REFUSALS}, operation_id="change_helper"
    )
    def put(self, request: Request, helper_id: int) -> Response:
        helper = get_object_or_404(Helper, pk=helper_id)
        return _done(people.change_helper(helper, **given(shapes.WriteHelperSerializer, request)))

    @extend_schema(responses={200: UndoSerializer, **REFUSALS}, operation_id="remove_helper")
    def delete(self, request: Request, helper_id: int) -> Response:
        return _done(people.remove_helper(get_object_or_404(Helper, pk=helper_id)))


class HomeChangesView(APIView):
    """A stretch that is not as usual."""

    @extend_schema(
        request=shapes.WriteHomeChangeSerializer,
        responses={201: UndoSerializer, **REFUSALS},
        operation_id="add_home_change",
    )
    def post(self, request: Request) -> Response:
        saved = people.add_home_change(**given(shapes.WriteHomeChangeSerializer, request))
        return Response({"undo": saved.undo}, status=201)


class HomeChangeView(APIView):
    """One of them."""

    @extend_schema(responses={200: UndoSerializer, **REFUSALS}, operation_id="remove_home_change")
    def delete(self, request: Request, change_id: int) -> Response:
        return _done(people.remove_home_change(get_object_or_404(HomeChange, pk=change_id)))


class CalendarView(APIView):
    """The schedule as a calendar file, at an address that only those know who were given it."""

    @extend_schema(responses={(200, "text/calendar"): OpenApiTypes.STR, **NOT_FOUND}, operation_id="schedule_calendar")
    def get(self, request: Request, feed_key: str) -> HttpResponse:
        stored = get_object_or_404(Answer, feed_key=feed_key)
        answer = HttpResponse(calendar_of(stored, timezone.now()), content_type="text/calendar; charset=utf-8")
        answer["Content-Disposition"] = 'inline; filename="darre.ics"'
        return answer


def _wish(wish_id: int) -> Wish:
    return get_object_or_404(Wish.objects.select_related("spool"), pk=wish_id)


def _done(saved: Any) -> Response:
    return Response({"undo": saved.undo})
