"""Trials over HTTP."""

from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, ErrorSerializer, given, given_query, shown
from darre.common.errors import Refusal
from darre.common.shapes import UndoSerializer
from darre.trials.actions import trials as acts
from darre.trials.actions.take_over import take_over
from darre.trials.api import serializers as shapes
from darre.trials.api.shapes import row_shape, trial_shape
from darre.trials.designs import Wanted, designed, least_swelling
from darre.trials.models import Sample, SampleReading
from darre.trials.selectors import finding_of, get_trial, scale_of, trials
from drying.trials import slip_behind

MOST_LISTED = 200


class TrialsView(APIView):
    """Trials, and beginning one."""

    @extend_schema(responses=shapes.TrialRowSerializer(many=True), operation_id="trials_list")
    def get(self, request: Request) -> Response:
        rows = [row_shape(trial) for trial in trials()[:MOST_LISTED]]
        return Response(shown(shapes.TrialRowSerializer, rows, many=True))

    @extend_schema(
        request=shapes.NewTrialSerializer,
        responses={201: shapes.SavedTrialSerializer, **REFUSALS},
        operation_id="begin_trial",
    )
    def post(self, request: Request) -> Response:
        data = given(shapes.NewTrialSerializer, request)
        samples = [acts.NewSample(**sample) for sample in data.pop("samples")]
        saved = acts.begin_trial(acts.NewTrial(**data, samples=samples))
        return Response(shown(shapes.SavedTrialSerializer, saved), status=201)


class TrialView(APIView):
    """One trial."""

    @extend_schema(responses={200: shapes.TrialSerializer, 404: ErrorSerializer}, operation_id="trial")
    def get(self, request: Request, trial_id: int) -> Response:
        return Response(shown(shapes.TrialSerializer, trial_shape(get_trial(trial_id))))

    @extend_schema(responses={200: UndoSerializer, **REFUSALS}, operation_id="remove_trial")
    def delete(self, request: Request, trial_id: int) -> Response:
        return Response({"undo": acts.remove_trial(get_trial(trial_id)).undo})


class EndTrialView(APIView):
    """Nothing more is weighed."""

    @extend_schema(request=None, responses={200: UndoSerializer, **REFUSALS}, operation_id="end_trial")
    def post(self, request: Request, trial_id: int) -> Response:
        return Response({"undo": acts.end_trial(get_trial(trial_id)).undo})


class TakeOverView(APIView):
    """Use what it told."""

    @extend_schema(request=None, responses={200: UndoSerializer, **REFUSALS}, operation_id="take_over_trial")
    def post(self, request: Request, trial_id: int) -> Response:
        return Response({"undo": take_over(trial_id).undo})


class SamplesView(APIView):
    """One more sample."""

    @extend_schema(
        request=shapes.NewSampleSerializer, responses={201: UndoSerializer, **REFUSALS}, operation_id="add_sample"
    )
    def post(self, request: Request, trial_id: int) -> Response:
        sample = acts.NewSample(**given(shapes.NewSampleSerializer, request))
        return Response({"undo": acts.add_sample(get_trial(trial_id), sample).undo}, status=201)


class SampleReadingsView(APIView):
    """Weigh a sample."""

    @extend_schema(
        request=shapes.NewReadingSerializer,
        responses={200: UndoSerializer, 201: UndoSerializer, **REFUSALS},
        operation_id="weigh_sample",
    )
    def post(self, request: Request, sample_id: int) -> Response:
        sample = get_object_or_404(Sample.objects.select_related("trial__scale"), pk=sample_id)
        saved = acts.weigh_sample(sample, **given(shapes.NewReadingSerializer, request))
        return Response({"undo": saved.undo}, status=200 if saved.undo is None else 201)


class SampleReadingView(APIView):
    """One weighing of a sample."""

    @extend_schema(
        request=shapes.CorrectReadingSerializer,
        responses={200: UndoSerializer, **REFUSALS},
        operation_id="correct_sample_reading",
    )
    def put(self, request: Request, reading_id: int) -> Response:
        corrected = given(shapes.CorrectReadingSerializer, request)
        return Response({"undo": acts.correct_reading(_reading(reading_id), **corrected).undo})

    @extend_schema(responses={200: UndoSerializer, **REFUSALS}, operation_id="remove_sample_reading")
    def delete(self, request: Request, reading_id: int) -> Response:
        return Response({"undo": acts.remove_reading(_reading(reading_id)).undo})


class DesignView(APIView):
    """What a lot that somebody thinks of would tell."""

    @extend_schema(
        parameters=[
            OpenApiParameter("kind", str, enum=["drying", "uptake"], required=True),
            OpenApiParameter("spool", int, required=True),
            OpenApiParameter("scale", int, required=True),
            OpenApiParameter("temp_c", str, required=True),
            OpenApiParameter("rh_pct", str, description="of the air that coils take up from; in water where not said"),
            OpenApiParameter("soaked", bool),
            OpenApiParameter("coils", int),
            OpenApiParameter("coil_m", str, description="m a coil"),
        ],
        responses={200: shapes.DesignSerializer, **REFUSALS},
        operation_id="trial_design",
    )
    def get(self, request: Request) -> Response:
        found = designed(Wanted(**given_query(shapes.DesignQuerySerializer, request)), timezone.now())
        plan = found.plan
        told = {
            "times_h": found.design.times_h,
            "coil_g": plan.coil_g,
            "change_pct": abs(plan.end_pct - plan.start_pct),
            "diffusivity_factor": found.design.diffusivity_factor,
            "change_pm_pct": found.design.change_pm_pct,
            "more_coils_factor": found.more_coils_factor,
            "scales": [vars(one) | {"scale": one.scale.pk, "name": one.scale.name} for one in found.scales],
        }
        return Response(shown(shapes.DesignSerializer, told))


class SwellingDesignView(APIView):
    """What pieces that somebody thinks of measuring would show."""

    @extend_schema(
        parameters=[
            OpenApiParameter("spool", int, required=True),
            OpenApiParameter("pieces", int),
            OpenApiParameter("readings", int, description="of each length"),
            OpenApiParameter("length_mm", str),
        ],
        responses={200: shapes.SwellingDesignSerializer, **REFUSALS},
        operation_id="swelling_design",
    )
    def get(self, request: Request) -> Response:
        wanted = given_query(shapes.SwellingQuerySerializer, request)
        least, holds = least_swelling(**wanted, now=timezone.now())
        return Response(shown(shapes.SwellingDesignSerializer, {"least_pct": least, "holds_pct": holds}))


class SlipView(APIView):
    """Which slip gives a percentage that somebody got out of the same masses."""

    @extend_schema(
        parameters=[OpenApiParameter("typed_pct", str, required=True)],
        responses={200: shapes.SlipSerializer, **REFUSALS},
        operation_id="trial_slip",
    )
    def get(self, request: Request, trial_id: int) -> Response:
        typed = given_query(shapes.SlipQuerySerializer, request)["typed_pct"]
        trial = get_trial(trial_id)
        found = finding_of(trial).sum
        if found is None:
            raise Refusal("not_told", "Nothing was weighed yet that this could be compared with.", "trial")
        first = next(iter(trial.samples.all()))
        known = 3.0 * 100.0 * scale_of(trial).uncertainty_g / first.start_g
        near = max(known, 0.006)
        slip = slip_behind(typed, found, near)
        told = {"total_pct": found.total_pct, "typed_is_right": abs(typed - found.total_pct) <= near, "slip": slip}
        return Response(shown(shapes.SlipSerializer, told))


def _reading(reading_id: int) -> SampleReading:
    return get_object_or_404(SampleReading.objects.select_related("sample__trial__scale"), pk=reading_id)
