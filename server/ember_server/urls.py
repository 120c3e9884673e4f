"""Addresses."""

from __future__ import annotations

from django.urls import include, path, re_path
from drf_spectacular.views import SpectacularAPIView

from accounts.api import SessionView
from bench.api import again, looks
from bench.api.gangs import GangView, LoopGangsView, MeasuredStrikeView, MeasuredView
from bench.api.loops import LoopListView, LoopView
from bench.api.table import LoopCsvView, LoopListImportView
from bundle.api import BundlesView, LoopBundleView, SiteBundleView
from common import pages, problems
from ember_server.health import HealthView
from fitting.api import views as fitting
from handover.api import lists, personal, search, statistics
from handover.api import views as handover
from handover.api.gang_files import GangNetlistView, GangPdfView, GangSheetView
from jobs.api import views as jobs
from judgements.api.stored import GangJudgementsView, JudgementView
from judging.api.judge import JudgeView, KindsView, MatrixView, ThresholdsView
from parts.api import views as parts
from proving.api import views as proving
from setup.api import views as setup
from sites.api import CircuitListView, CircuitView, SiteListView, SiteView
from sites.members import MembersView
from sites.schedule import CorrectionsView
from staff import tokens
from staff import views as staff
from staff.trail import ChangesView, TrailCsvView, TrailView
from survey.api import archive
from survey.api import views as survey
from survey.api.labels import LabelsPdfView
from visits.api import views as visits
from work.api import views as work

api = [
    path("health/", HealthView.as_view()),
    path("schema/", SpectacularAPIView.as_view(), name="schema"),
    path("session/", SessionView.as_view()),
    path("sites/", SiteListView.as_view()),
    path("sites/<uuid:pk>/", SiteView.as_view()),
    path("circuits/", CircuitListView.as_view()),
    path("circuits/<uuid:pk>/", CircuitView.as_view()),
    path("bundles/", BundlesView.as_view()),
    path("sites/<uuid:pk>/bundle.zip", SiteBundleView.as_view()),
    path("loops/<uuid:pk>/bundle.zip", LoopBundleView.as_view()),
    path("loops.csv", LoopCsvView.as_view()),
    path("loops/import/", LoopListImportView.as_view()),
    path("loops/", LoopListView.as_view()),
    path("loops/<uuid:pk>/", LoopView.as_view()),
    path("sites/<uuid:pk>/members/", MembersView.as_view()),
    path("sites/<uuid:pk>/archive/", archive.SiteArchiveView.as_view()),
    path("sites/<uuid:pk>/bring-back/", archive.SiteArchiveView.as_view(is_back=True)),
    path("loops/<uuid:pk>/archive/", archive.LoopArchiveView.as_view()),
    path("loops/<uuid:pk>/bring-back/", archive.LoopArchiveView.as_view(is_back=True)),
    path("gangs/<uuid:pk>/archive/", archive.GangArchiveView.as_view()),
    path("gangs/<uuid:pk>/bring-back/", archive.GangArchiveView.as_view(is_back=True)),
    path("photos/<uuid:pk>/archive/", archive.PhotoArchiveView.as_view()),
    path("photos/<uuid:pk>/bring-back/", archive.PhotoArchiveView.as_view(is_back=True)),
    path("accounts/", staff.AccountListView.as_view()),
    path("accounts/<uuid:pk>/", staff.AccountView.as_view()),
    path("accounts/<uuid:pk>/password/", staff.AccountPasswordView.as_view()),
    path("personal/find/", personal.PersonalView.as_view()),
    path("personal/erase/", personal.PersonalEraseView.as_view()),
    path("tokens/", tokens.TokensView.as_view()),
    path("tokens/<uuid:pk>/end/", tokens.TokenEndView.as_view()),
    path("password/", staff.OwnPasswordView.as_view()),
    path("sign-ins/", staff.SignInsView.as_view()),
    path("sign-ins/<uuid:pk>/end/", staff.SignInEndView.as_view()),
    path("trail/", TrailView.as_view()),
    path("trail.csv", TrailCsvView.as_view()),
    path("loops/<uuid:pk>/gangs/", LoopGangsView.as_view()),
    path("loops/<uuid:pk>/survey/", survey.SurveyView.as_view()),
    path("loops/<uuid:pk>/ways/", work.WorkView.as_view()),
    path("loops/<uuid:pk>/ways/compare/", work.CompareView.as_view()),
    path("loops/<uuid:pk>/ways/one/", work.WayView.as_view()),
    path("loops/<uuid:pk>/ways/choices/", work.ChoicesView.as_view()),
    path("loops/<uuid:pk>/drawings/", work.DrawingsView.as_view()),
    path("loops/<uuid:pk>/drawings/check/", work.DrawingCheckView.as_view()),
    path("gangs/<uuid:pk>/ceiling/", work.CeilingView.as_view()),
    path("way-order/", work.OrderView.as_view()),
    path("loops/<uuid:pk>/fit/", fitting.FitView.as_view()),
    path("loops/<uuid:pk>/fit/marks/", fitting.FitMarksView.as_view()),
    path("loops/<uuid:pk>/fit/left/", fitting.FitLeftView.as_view()),
    path("loops/<uuid:pk>/kit/", fitting.KitView.as_view()),
    path("loops/<uuid:pk>/prove/", proving.ProveView.as_view()),
    path("loops/<uuid:pk>/prove/marks/", proving.ProveMarksView.as_view()),
    path("loops/<uuid:pk>/cases/", proving.CasesView.as_view()),
    path("gangs/<uuid:pk>/worth/", proving.GangWorthView.as_view()),
    path("gangs/<uuid:pk>/meter/", proving.GangMeterView.as_view()),
    path("cases/<uuid:pk>/", proving.CaseView.as_view()),
    path("cases/<uuid:pk>/diagnosis/", proving.CaseDiagnosisView.as_view()),
    path("cases/<uuid:pk>/evidence/", proving.CaseEvidenceView.as_view()),
    path("cases/<uuid:pk>/close/", proving.CaseCloseView.as_view()),
    path("cases/<uuid:pk>/reopen/", proving.CaseReopenView.as_view()),
    path("evidence/<uuid:pk>/strike/", proving.EvidenceStrikeView.as_view()),
    path("sites/<uuid:pk>/house/", setup.HouseView.as_view()),
    path("sites/<uuid:pk>/pairing/", setup.PairingView.as_view()),
    path("sites/<uuid:pk>/pairing/marks/", setup.PairMarksView.as_view()),
    path("loops/<uuid:pk>/handover/", handover.HandoverView.as_view()),
    path("loops/<uuid:pk>/history/", handover.HistoryView.as_view()),
    path("loops/<uuid:pk>/issues/", handover.IssuesView.as_view()),
    path("loops/<uuid:pk>/client.pdf", handover.ClientPdfView.as_view()),
    path("loops/<uuid:pk>/stickers.pdf", handover.StickersPdfView.as_view()),
    path("sites/<uuid:pk>/sheet.pdf", handover.SitePdfView.as_view()),
    path("issues/<uuid:pk>/", handover.IssueView.as_view()),
    path("issues/<uuid:pk>/issue.pdf", handover.IssuePdfView.as_view()),
    path("issues/<uuid:pk>/issue.json", handover.IssueContentView.as_view()),
    path("issues/<uuid:pk>/signatures.pdf", handover.SignaturesPdfView.as_view()),
    path("issues/<uuid:pk>/sign/", handover.SignView.as_view()),
    path("issues/<uuid:pk>/ask-back/", handover.AskBackView.as_view()),
    path("handover/board/", handover.HandoverBoardView.as_view()),
    re_path(r"^lists/(?P<name>[a-z]+)\.csv$", lists.ListCsvView.as_view()),
    path("search/", search.SearchView.as_view()),
    path("statistics/", statistics.StatisticsView.as_view()),
    path("handover/rules/", handover.RulesView.as_view()),
    path("sites/<uuid:pk>/pairing/rehearse/", setup.RehearseView.as_view()),
    path("sites/<uuid:pk>/pairing/try/", setup.TryView.as_view()),
    path("sites/<uuid:pk>/works/", setup.WorksView.as_view()),
    path("gangs/<uuid:pk>/programs/", setup.ProgramsView.as_view()),
    path("gangs/<uuid:pk>/programs/try/", setup.ProgramsTryView.as_view()),
    path("gangs/<uuid:pk>/programs.ics", setup.ProgramsCalendarView.as_view()),
    path("plans/", visits.PlansView.as_view()),
    path("plans/defaults/", visits.PlanDefaultsView.as_view()),
    path("plans/<uuid:pk>/", visits.PlanView.as_view()),
    path("plans/<uuid:pk>/compute/", visits.PlanComputeView.as_view()),
    path("plans/<uuid:pk>/take/", visits.PlanTakeView.as_view()),
    path("plans/<uuid:pk>/visits/", visits.PlanVisitsView.as_view()),
    path("plans/<uuid:pk>/materials/", visits.PlanMaterialsView.as_view()),
    path("plans/<uuid:pk>/day.pdf", visits.PlanPdfView.as_view()),
    path("plans/<uuid:pk>/materials.pdf", visits.PlanMaterialsPdfView.as_view()),
    path("plans/<uuid:pk>/visits.ics", visits.PlanCalendarView.as_view()),
    path("van/", visits.VanView.as_view()),
    path("task-minutes/", visits.TaskMinutesView.as_view()),
    path("loops/<uuid:pk>/readings/", survey.ReadingsView.as_view()),
    path("loops/<uuid:pk>/isolations/", survey.IsolationsView.as_view()),
    path("loops/<uuid:pk>/steps/", survey.StepsView.as_view()),
    path("loops/<uuid:pk>/photos/", survey.PhotosView.as_view()),
    path("loops/<uuid:pk>/meter/", survey.MeterReadView.as_view()),
    path("loops/<uuid:pk>/record.pdf", survey.RecordPdfView.as_view()),
    path("loops/<uuid:pk>/visit.pdf", survey.VisitPdfView.as_view()),
    path("readings/<uuid:pk>/strike/", survey.ReadingStrikeView.as_view()),
    path("loops/<uuid:pk>/proof-events/", survey.ProofEventsView.as_view()),
    path("isolations/", survey.BoardView.as_view()),
    path("isolations/<uuid:pk>/locks/", survey.LocksView.as_view()),
    path("isolations/<uuid:pk>/energise/", survey.EnergiseView.as_view()),
    path("locks/<uuid:pk>/off/", survey.LockOffView.as_view()),
    path("notices/", survey.NoticesView.as_view()),
    path("notices/<uuid:pk>/seen/", survey.NoticeSeenView.as_view()),
    path("photos/<uuid:pk>/image.jpg", survey.PhotoView.as_view()),
    path("meter/", survey.MeterView.as_view()),
    path("survey-choices/", survey.SurveyChoicesView.as_view()),
    path("circuits/<uuid:pk>/corrections/", CorrectionsView.as_view()),
    path("sites/<uuid:pk>/labels.pdf", LabelsPdfView.as_view()),
    path("gangs/<uuid:pk>/", GangView.as_view()),
    path("gangs/<uuid:pk>/measured/", MeasuredView.as_view()),
    path("measured/<uuid:pk>/strike/", MeasuredStrikeView.as_view()),
    path("gangs/<uuid:pk>/judge/", looks.GangJudgeView.as_view()),
    path("gangs/<uuid:pk>/spread/", looks.GangSpreadView.as_view()),
    path("gangs/<uuid:pk>/narrow/", looks.GangNarrowView.as_view()),
    path("gangs/<uuid:pk>/choose/", looks.GangChooseView.as_view()),
    path("gangs/<uuid:pk>/lit/", looks.GangLitView.as_view()),
    path("gangs/<uuid:pk>/lit-band/", looks.GangLitBandView.as_view()),
    path("gangs/<uuid:pk>/after-fitting/", looks.GangAfterView.as_view()),
    path("gangs/<uuid:pk>/least-load/", looks.GangLeastLoadView.as_view()),
    path("gangs/<uuid:pk>/predict/", looks.GangPredictView.as_view()),
    path("gangs/<uuid:pk>/sweep/", looks.GangSweepView.as_view()),
    path("gangs/<uuid:pk>/together/", looks.GangTogetherView.as_view()),
    path("gangs/<uuid:pk>/judge-again/", again.JudgeAgainView.as_view()),
    path("outdated/", again.OutdatedView.as_view()),
    path("gangs/<uuid:pk>/overall/", looks.GangOverallView.as_view()),
    path("gangs/<uuid:pk>/complaint/", survey.GangComplaintView.as_view()),
    path("gangs/<uuid:pk>/loads/", looks.GangLoadsView.as_view()),
    path("gangs/<uuid:pk>/cures/", looks.GangCuresView.as_view()),
    path("gangs/<uuid:pk>/judgements/", GangJudgementsView.as_view()),
    path("gangs/<uuid:pk>/sheet.json", GangSheetView.as_view()),
    path("gangs/<uuid:pk>/sheet.pdf", GangPdfView.as_view()),
    path("gangs/<uuid:pk>/netlist.cir", GangNetlistView.as_view()),
    path("judgements/<uuid:pk>/", JudgementView.as_view()),
    path("judge/", JudgeView.as_view()),
    path("thresholds/", ThresholdsView.as_view()),
    path("compatibility/", MatrixView.as_view()),
    path("kinds/", KindsView.as_view()),
    path("parts/", parts.PartListView.as_view()),
    path("parts/import/", parts.PartImportView.as_view()),
    re_path(r"^parts\.(?P<form>csv|json)$", parts.PartExportView.as_view()),
    path("parts/<uuid:pk>/", parts.PartView.as_view()),
    path("parts/<uuid:pk>/claims/", parts.PartClaimsView.as_view()),
    path("parts/<uuid:pk>/use/", parts.PartUseView.as_view()),
    path("parts/<uuid:pk>/cable-run/", parts.CableRunView.as_view()),
    path("jobs/", jobs.JobsView.as_view()),
    path("jobs/<uuid:pk>/stop/", jobs.JobStopView.as_view()),
    path("part-kinds/", parts.PartKindsView.as_view()),
    path("stages/", parts.StagesView.as_view()),
    path("typical-lamp/", parts.TypicalLampView.as_view()),
    path("control-classes/", parts.ControlClassesView.as_view()),
    path("typical-control/", parts.TypicalControlView.as_view()),
    path("changes/", ChangesView.as_view()),
]

handler400 = "common.problems.not_read"
handler500 = "common.problems.broken"
urlpatterns = [
    path("api/v1/", include(api)),
    re_path(r"^api/", problems.not_found),
    re_path(r"^(?!static/).*$", pages.interface),
]
