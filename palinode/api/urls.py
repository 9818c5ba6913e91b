"""Routes of the API."""

from django.urls import path
from drf_spectacular.views import SpectacularAPIView

from palinode.api.views import brought, captures, comparisons, decisions, describing, imports, members, moves, session

urlpatterns = [
    path("schema/", SpectacularAPIView.as_view(), name="schema"),
    path("session/", session.SessionView.as_view()),
    path("owner/", session.OwnerView.as_view()),
    path("account/", session.AccountView.as_view()),
    path("users/", session.UsersView.as_view()),
    path("tokens/", session.TokensView.as_view()),
    path("tokens/<int:pk>/", session.TokenView.as_view()),
    path("rule/", describing.RuleView.as_view()),
    path("who/", describing.WhoView.as_view()),
    path("moves/", moves.MovesView.as_view()),
    path("moves/<int:pk>/", moves.MoveView.as_view()),
    path("moves/<int:pk>/who/", describing.WhoOfMoveView.as_view()),
    path("moves/<int:pk>/members/", members.MembersView.as_view()),
    path("moves/<int:pk>/members/<int:member>/", members.MemberView.as_view()),
    path("moves/<int:pk>/decisions/", decisions.DecisionsView.as_view()),
    path("moves/<int:pk>/brought/", brought.BroughtView.as_view()),
    path("moves/<int:pk>/brought/<str:side>/", brought.BroughtSideView.as_view()),
    path("moves/<int:pk>/imports/", imports.ImportsView.as_view()),
    path("decisions/<int:pk>/", decisions.DecisionView.as_view()),
    path("moves/<int:pk>/captures/", captures.CapturesView.as_view()),
    path("captures/<int:pk>/", captures.CaptureView.as_view()),
    path("captures/<int:pk>/pause/", captures.PauseView.as_view()),
    path("captures/<int:pk>/resume/", captures.ResumeView.as_view()),
    path("captures/<int:pk>/stop/", captures.StopView.as_view()),
    path("captures/<int:pk>/read-again/", captures.ReadAgainView.as_view()),
    path("captures/<int:pk>/naming/", captures.NamingView.as_view()),
    path("captures/<int:pk>/segments/<int:number>/", captures.SegmentView.as_view()),
    path("moves/<int:pk>/comparisons/", comparisons.ComparisonsView.as_view()),
    path("comparisons/<int:pk>/", comparisons.ComparisonView.as_view()),
    path("comparisons/<int:pk>/pages/", comparisons.LedgerView.as_view()),
    path("comparisons/<int:pk>/pages/<int:rank>/", comparisons.PairView.as_view()),
    path("comparisons/<int:pk>/export/", comparisons.ExportView.as_view()),
]
