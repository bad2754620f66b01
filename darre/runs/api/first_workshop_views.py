"""The first workshop over HTTP."""

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, given
from darre.runs.actions.first_workshop import FirstWorkshop, begin
from darre.runs.api.first_workshop_serializers import FirstWorkshopSerializer, SavedFirstWorkshopSerializer


class FirstWorkshopView(APIView):
    """Begin an empty workshop: room, spool, dryer and scale at once."""

    @extend_schema(
        request=FirstWorkshopSerializer,
        responses={201: SavedFirstWorkshopSerializer, **REFUSALS},
        operation_id="first_workshop",
    )
    def post(self, request: Request) -> Response:
        spool, dryer = begin(FirstWorkshop(**given(FirstWorkshopSerializer, request)))
        return Response({"spool": spool.pk, "dryer": dryer.pk}, status=201)
