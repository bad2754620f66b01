"""Addresses of lanes, kit, plans, runs and weighings."""

from django.urls import path

from darre.runs.api import event_views, kit_views, plan_views, rack_views, views

urlpatterns = [
    path("lanes/", views.LaneListView.as_view()),
    path("rack/", rack_views.RackView.as_view()),
    path("spools/<int:spool_id>/page/", rack_views.SpoolPageView.as_view()),
    path("spools/<int:spool_id>/label/", rack_views.LabelView.as_view()),
    path("keep/", rack_views.KeepView.as_view()),
    path("first-run/", rack_views.FirstRunView.as_view()),
    path("dryers/", kit_views.DryerListView.as_view()),
    path("dryers/<int:dryer_id>/", kit_views.DryerView.as_view()),
    path("dryers/<int:dryer_id>/probes/", kit_views.ProbeListView.as_view()),
    path("probes/<int:probe_id>/", kit_views.ProbeView.as_view()),
    path("dryer-kinds/", kit_views.DryerKindListView.as_view()),
    path("scales/", kit_views.ScaleListView.as_view()),
    path("scales/<int:scale_id>/", kit_views.ScaleView.as_view()),
    path("plan/", plan_views.PlanView.as_view()),
    path("plan/map/", plan_views.MapView.as_view()),
    path("weighings/", views.WeighingView.as_view()),
    path("runs/", views.RunListView.as_view()),
    path("runs/<int:run_id>/", views.RunView.as_view()),
    path("runs/<int:run_id>/end/", views.EndRunView.as_view()),
    path("runs/<int:run_id>/events/", event_views.EventListView.as_view()),
    path("runs/<int:run_id>/energy/", event_views.EnergyView.as_view()),
    path("run-events/<int:event_id>/", event_views.EventView.as_view()),
]
