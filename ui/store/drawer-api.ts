import { createApi, fakeBaseQuery } from '@reduxjs/toolkit/query/react';
import type { SheetCard } from '../../contract/answers';
import type { DrawerAct } from '../../contract/requests';
import { ApiFailure, doInDrawer, listSheets } from '../session/api';

interface Problem {
  message: string;
}

const answer = async <T>(work: Promise<T>): Promise<{ data: T } | { error: Problem }> => {
  try {
    return { data: await work };
  } catch (error) {
    return {
      error: { message: error instanceof ApiFailure ? error.message : 'Something went wrong. Nothing was changed.' },
    };
  }
};

/** The drawer's sheets and the acts on them. */
export const drawerApi = createApi({
  reducerPath: 'drawer',
  baseQuery: fakeBaseQuery<Problem>(),
  endpoints: (build) => ({
    sheets: build.query<SheetCard[], void>({ queryFn: () => answer(listSheets()) }),
    act: build.mutation<SheetCard[], DrawerAct>({
      queryFn: (act) => answer(doInDrawer(act)),
      async onQueryStarted(_act, { dispatch, queryFulfilled }) {
        const { data } = await queryFulfilled.catch(() => ({ data: undefined }));
        if (data) dispatch(drawerApi.util.upsertQueryData('sheets', undefined, data));
      },
    }),
  }),
});

export const { useSheetsQuery, useActMutation } = drawerApi;
