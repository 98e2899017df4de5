/** Loads how each area takes its postings back; the server and the tests import it once, before anything is reversed. */
import './dispatch/reversal'
import './purchasing/reversal'
import './stock/reversal'
import './workshop/reversal'
